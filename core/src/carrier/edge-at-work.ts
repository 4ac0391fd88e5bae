import { type ChainOfPieces, type ComponentsById, placePieces, type PlacedTip, placeTips } from '#core/assembly';
import { degFromRad, dot, frameFromWorld, type Frame, type Motion, move, normalize, roundTo, turn, type Vec3, yOf } from '#core/math';
import type { Model } from '#core/mesh';
import { type ComponentRecord, cornerTowards, mountFrameOf, spinsInWork, type Tip, useOf, virtualTipOf } from '#core/records';
import { cornerOfTip, tipOrientation } from '#core/reading';

/** An edge of an assembly by itself, in the gauge frame: what its work with a machine follows from. */
export interface OwnEdge {
  readonly piece: string;
  readonly tip: string;
  readonly name: string;
  readonly component: ComponentRecord;
  readonly noseRadius: number;
  readonly noseCentre: Vec3;
  /** What the control moves; a picked point stays where it is, whichever way the tool stands. */
  readonly programmed: PlacedTip['programmedPoint'];
  readonly point: Vec3;
  readonly corner: Tip['corner'];
  readonly towards?: Vec3;
  /** Out of the material on the rake side; undefined where nothing tells which side that is. */
  readonly rake?: Vec3;
  /** Away from the corner along its two edges. Needs the model. */
  readonly legs?: readonly [Vec3, Vec3];
  /** The mount frame of its piece: where the tool points, and where its own X and Y look. */
  readonly mount: Frame;
  readonly hand: 'right' | 'left' | 'neutral' | null;
  /** Of what spins, or what the work spins about: drills and the like. */
  readonly sense: 'M3' | 'M4' | null;
  readonly spins: boolean;
  readonly isInside: boolean;
}

/** The edges of an assembly in its gauge frame, with all that their geometry tells; `models` by component. */
export function ownEdges(assembly: ChainOfPieces, components: ComponentsById, models: Readonly<Record<string, Model | undefined>>): OwnEdge[] {
  const placed = placePieces(assembly, components);
  return placeTips(assembly, components, placed).flatMap((at): OwnEdge[] => {
    const component = components[assembly.pieces.find((p) => p.id === at.piece)?.componentId ?? ''];
    const tip = component?.tips.find((t) => t.id === at.tip);
    const motion = placed.get(at.piece);
    if (!component || !tip || !motion) return [];
    const model = models[component.id];
    const corner = model && cornerOfTip(component, model, tip);
    const isTold = tip.rake && (tip.origin.from === 'read' || tip.origin.from === 'data');
    const rake = corner?.rake ?? (isTold ? tip.rake : undefined);
    const towards = corner?.towards ?? tip.towards;
    const own = mountFrameOf(component);
    const up = rake === undefined ? 0 : dot(rake, yOf(own));
    const use = useOf(component);
    const said = assembly.edges?.find((e) => e.pieceId === at.piece && e.tipId === at.tip)?.name;
    return [
      {
        piece: at.piece,
        tip: at.tip,
        name: said || (component.tips.length > 1 ? `${component.name}, ${at.name}` : component.name),
        component,
        noseRadius: at.noseRadius,
        noseCentre: at.noseCentre,
        programmed: at.programmedPoint,
        point: at.point,
        corner: tip.corner,
        ...(towards ? { towards: turn(motion, towards) } : {}),
        ...(rake ? { rake: turn(motion, rake) } : {}),
        ...(corner ? { legs: [turn(motion, corner.legs[0]), turn(motion, corner.legs[1])] as const } : {}),
        mount: { origin: move(motion, own.origin), z: turn(motion, own.z), x: turn(motion, own.x) },
        hand: Math.abs(up) >= 0.5 ? (up > 0 ? 'right' : 'left') : null,
        sense: use?.sense ?? null,
        spins: component.componentKind === 'cutter' && spinsInWork(component),
        isInside: component.componentKind === 'boring bar',
      },
    ];
  });
}

export type Feed = 'towards the chuck' | 'away from it' | 'to the axis' | 'from the axis';

/** A feed that an edge can take, with the angle of each of its edges against it, degrees: the one that leads, and the one that follows. */
export interface TakenFeed {
  readonly feed: Feed;
  readonly enteringAngle: number;
  readonly endCuttingAngle: number;
}

/** An edge where it stands, as the control of a spindle is to know it. Lengths in mm in the turning plane of the spindle, about the carrier's reference. */
export interface EdgeAtWork {
  readonly X: number;
  readonly Y: number;
  readonly Z: number;
  /** The side of its corner along X and Z of the turning plane. */
  readonly corner: Tip['corner'];
  /** ISO: 1 to 9. */
  readonly tipOrientation: number;
  /** On which side of the spindle axis it cuts: 1 on the carrier's own, -1 beyond the axis, 0 on the axis. */
  readonly side: -1 | 0 | 1;
  readonly inside: boolean;
  /** Whether the work has to turn clockwise, seen from the spindle towards it; null where nothing tells. Of what spins itself: its own turn. */
  readonly clockwise: boolean | null;
  /** Away from its corner along its two edges, in the turning plane: [x, z]. Undefined without a model: nothing is known of its edges then. */
  readonly legs: readonly Flat[] | undefined;
  readonly feeds: readonly TakenFeed[] | undefined;
  /** Degrees between its edges and what they leave: a shoulder across the axis, and a cylinder along it. Negative where the edge is in it. */
  readonly relief: { readonly face: number; readonly side: number } | undefined;
}

/** An edge in the turning plane of a spindle: `machineFromGauge` with the carrier's reference in the origin, `plane` the turning frame of the spindle. */
export function edgeAtWork(edge: OwnEdge, machineFromGauge: Motion, plane: Frame): EdgeAtWork {
  // Only the directions of the plane count: everything is told about the carrier's reference.
  const toPlane = frameFromWorld({ ...plane, origin: [0, 0, 0] });
  const place = (p: Vec3) => move(toPlane, move(machineFromGauge, p));
  const look = (d: Vec3) => turn(toPlane, turn(machineFromGauge, d));
  const axes: Frame = { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] };
  const towards = edge.towards && look(edge.towards);
  const corner = towards ? cornerTowards(towards, axes) : sideOf(edge, look);
  const rake = edge.rake && look(edge.rake);
  const tip = { noseRadius: edge.noseRadius, noseCentre: place(edge.noseCentre), corner, ...(towards ? { towards } : {}), ...(rake ? { rake } : {}) };
  const [X, Y, Z] = edge.programmed === 'virtual tip' ? virtualTipOf(tip, axes) : edge.programmed === 'nose centre' ? tip.noseCentre : place(edge.point);
  const pointsAt = look(edge.mount.z);
  const standsAcross = Math.abs(pointsAt[0]) > Math.SQRT1_2;
  const inside = !standsAcross && (edge.isInside || corner.x === 1);
  const side: -1 | 0 | 1 =
    corner.x === 0 && !standsAcross ? 0 : standsAcross ? (pointsAt[0] < 0 ? 1 : -1) : inside ? corner.x || 1 : ((-corner.x || 1) as -1 | 1);
  const legs = edge.legs?.map((l) => flat(look(l)));
  return {
    X,
    Y,
    Z,
    corner,
    tipOrientation: tipOrientation(corner),
    side,
    inside,
    clockwise: clockwiseOf(edge, side, rake),
    legs,
    feeds: legs && corner.x !== 0 ? feedsOf(legs, corner, side || 1, inside) : undefined,
    relief: legs && reliefOf(legs, corner),
  };
}

/** The reliefs of an edge for a side that its corner is to cut at, wherever it points now; see `EdgeAtWork.relief`. */
export function reliefFor({ legs }: Pick<OwnEdge, 'legs'>, machineFromGauge: Motion, plane: Frame, corner: Tip['corner']): EdgeAtWork['relief'] {
  const toPlane = frameFromWorld({ ...plane, origin: [0, 0, 0] });
  return (
    legs &&
    reliefOf(
      legs.map((l) => flat(turn(toPlane, turn(machineFromGauge, l)))),
      corner,
    )
  );
}

// Of a tip whose corner nobody pointed at: the sides as they were told in the tool's own mount.
function sideOf({ corner, mount }: OwnEdge, look: (d: Vec3) => Vec3): Tip['corner'] {
  const [x, z] = [look(mount.x), look(mount.z)];
  const along = (k: 0 | 2) => Math.round(corner.x * x[k] + corner.z * z[k]);
  return { x: Math.sign(along(0)) as -1 | 0 | 1, z: Math.sign(along(2)) as -1 | 0 | 1 };
}

// With M3 the work at +X moves towards +Y (domain), at -X towards -Y: the rake face must look against it. What works on the axis turns as its hand says.
function clockwiseOf(edge: OwnEdge, side: -1 | 0 | 1, rake: Vec3 | undefined): boolean | null {
  if (side === 0 || edge.spins) return edge.sense === null ? null : edge.sense === 'M3';
  if (!rake || Math.abs(rake[1]) < 0.5) return null;
  return rake[1] * side < 0;
}

type Flat = readonly [x: number, z: number];
const flat = (d: Vec3): Flat => {
  const l = Math.hypot(d[0], d[2]);
  return l < 1e-9 ? [0, 0] : [d[0] / l, d[2] / l];
};

/**
 * How a corner lies on a line through its tip: degrees from `along` to the nearer of its edges, and from the other way to the farther one, both counted away from
 * the material that lies at `material`. Negative where an edge is in the material.
 */
export function lieAgainst(legs: readonly Flat[], along: Flat, material: Flat): { readonly near: number; readonly far: number } {
  const angles = legs.map((l) => degFromRad(Math.atan2(-(l[0] * material[0] + l[1] * material[1]), l[0] * along[0] + l[1] * along[1])));
  const near = Math.min(...angles);
  const far = Math.max(...angles);
  return { near, far: 180 - far };
}

// Degrees. An edge that lies flat against what it has cut still clears it; less is noise of the model.
const FLATTEST = -1e-6;
/** Degrees. An edge that leads flatter than this does not cut what is before it, it slides over it (finishing styles of ISO 5608 lead by 45 and more). */
export const FLATTEST_LEAD = 10;

function feedsOf(legs: readonly Flat[], corner: Tip['corner'], side: -1 | 1, inside: boolean): TakenFeed[] {
  // Where the material lies: of what is turned along the axis at the axis, or outside of a bore; of a face where the corner points.
  const round: Flat = [inside ? side : -side, 0];
  const face: Flat = [0, corner.z || -1];
  const ways: readonly [Feed, Flat, Flat][] = [
    ['towards the chuck', [0, -1], round],
    ['away from it', [0, 1], round],
    ['to the axis', [-side, 0], face],
    ['from the axis', [side, 0], face],
  ];
  return ways.flatMap(([feed, way, material]): TakenFeed[] => {
    const { near, far } = lieAgainst(legs, [-way[0], -way[1]], material);
    if (near < FLATTEST || far < FLATTEST_LEAD) return [];
    return [{ feed, enteringAngle: roundTo(far, 3), endCuttingAngle: roundTo(near, 3) }];
  });
}

function reliefOf(legs: readonly Flat[], corner: Tip['corner']): EdgeAtWork['relief'] {
  if (corner.x === 0 || corner.z === 0) return undefined;
  // A cylinder along the axis on the side that the corner points to, seen away from where it points; a shoulder likewise.
  const side = lieAgainst(legs, [0, -corner.z], [corner.x, 0]).near;
  const face = lieAgainst(legs, [-corner.x, 0], [0, corner.z]).near;
  return { face: roundTo(face, 3), side: roundTo(side, 3) };
}

/** mm. The diameter that an index error is told for where nothing says one. */
export const USUAL_DIAMETER = 40;

/** By how much the radius is wrong where a tip stands `height` off the turning plane and was set on a diameter: it cuts on sqrt(D^2 + 4 h^2). mm. */
export const indexError = (height: number, diameter: number): number => (Math.hypot(diameter, 2 * height) - diameter) / 2;

/** The unit vector that the rake face looks along, and the way the work moves there, in machine directions; for drawing. */
export const workMotion = (side: -1 | 0 | 1, clockwise: boolean, plane: Frame): Vec3 => {
  const y = yOf(plane);
  const way = (clockwise ? 1 : -1) * (side || 1);
  return normalize([y[0] * way, y[1] * way, y[2] * way]);
};

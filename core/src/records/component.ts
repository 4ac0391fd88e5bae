import {
  compose,
  frameFromWorld,
  IDENTITY,
  IDENTITY_FRAME,
  type Motion,
  radFromDeg,
  rotationAbout,
  rotationBetween,
  translation,
  addScaled,
  type Frame,
  type Vec3,
  assertNever,
  dot,
  yOf,
} from '#core/math';
import { AS_USUAL } from '#core/cutting';
import type { Model } from '#core/mesh';
import type { BodyEntry } from './body-records.ts';
import { hashPlain } from './hash.ts';
import { COMPONENT_VERSION, type ComponentRecord } from './component-record.ts';
import type { GeometryChoice, MadeGeometry } from './geometry-record.ts';
import type { PoseStep, Tip } from './mark-records.ts';
import type { PlanRecord } from './plan-record.ts';
import { ON_MASTER } from './shelf-place.ts';

export type GeometryTarget = MadeGeometry['target'];
export const GEOMETRY_TARGETS: readonly GeometryTarget[] = ['cutting', 'non-cutting'];

/** What a record says of its model. */
export interface ModelSummary {
  readonly faces: number;
  readonly triangles: number;
  readonly bodies: readonly { readonly id: string; readonly name: string; readonly colour?: string }[];
}

export const summarizeModel = (model: Model): ModelSummary => ({
  faces: model.bodies.reduce((n, b) => n + b.faces.length, 0),
  triangles: model.bodies.reduce((n, b) => n + b.mesh.triangles.length / 3, 0),
  bodies: model.bodies.map(({ id, name, colour }) => ({ id, name, colour })),
});

/** What a component still needs before it can be built with. */
export const missingMarks = ({ mount, tips, bodies }: Pick<ComponentRecord, 'mount' | 'tips' | 'bodies'>): ('mount' | 'tip')[] => [
  ...(mount ? [] : ['mount' as const]),
  ...(tips.length === 0 && bodies.some((b) => b.role === 'cutting') ? ['tip' as const] : []),
];

/** A new component from a file that was just read; nothing is marked yet. */
export function newComponent(
  given: { id: string; name: string; source: ComponentRecord['source']; modelBlob: string; now: string },
  made: ModelSummary,
): ComponentRecord {
  return {
    kind: 'component',
    version: COMPONENT_VERSION,
    id: given.id,
    name: given.name,
    componentKind: 'other',
    source: given.source,
    model: { blob: given.modelBlob, faces: made.faces, triangles: made.triangles },
    bodies: made.bodies.map((b) => ({ ...b, role: 'tool body', hidden: false })),
    cuts: [],
    inserts: [],
    moves: [],
    faceColours: [],
    designation: '',
    pose: [],
    mount: null,
    seats: [],
    tips: [],
    use: AS_USUAL,
    geometry: [],
    plan: null,
    shelf: ON_MASTER,
    createdAt: given.now,
    changedAt: given.now,
  };
}

/** The motion of one pose step. */
export function stepMotion(step: PoseStep): Motion {
  switch (step.kind) {
    case 'rotate':
      return rotationAbout(step.point, step.axis, radFromDeg(step.angleDeg));
    case 'move':
      return translation(step.by);
    case 'align':
      return rotationBetween(step.point, step.from, step.to);
    default:
      return assertNever(step);
  }
}

/** All steps in order: takes the vendor file's coordinates into the posed ones. */
export const posedFromFile = (pose: readonly PoseStep[]): Motion => pose.reduce((motion, step) => compose(stepMotion(step), motion), IDENTITY);

/** The mount frame of a component in its file's coordinates; the file's own frame where none is marked. */
export const mountFrameOf = (record: Pick<ComponentRecord, 'mount'>): Frame => record.mount?.frame ?? IDENTITY_FRAME;

/**
 * The virtual tip P = C + r (sx X + sz Z) in the file's coordinates, X and Z of the mount frame. A tilted nose circle with normal n reaches
 * r sqrt(1 - (n a)^2) along an axis a; the height is that of the nose's furthest point, which cuts.
 */
export function virtualTipOf(tip: Pick<Tip, 'noseRadius' | 'noseCentre' | 'corner' | 'towards' | 'rake'>, mount: Frame): Vec3 {
  const reach = (axis: Vec3) => (tip.rake ? tip.noseRadius * Math.sqrt(Math.max(0, 1 - dot(tip.rake, axis) ** 2)) : tip.noseRadius);
  const inPlane = addScaled(addScaled(tip.noseCentre, mount.x, reach(mount.x) * tip.corner.x), mount.z, reach(mount.z) * tip.corner.z);
  const y = yOf(mount);
  return tip.towards ? addScaled(inPlane, y, tip.noseRadius * dot(tip.towards, y)) : inPlane;
}

/** The point of a tip that the control moves, in the file's coordinates. */
export const programmedPointOf = (tip: Tip, mount: Frame): Vec3 => (tip.programmedPoint === 'nose centre' ? tip.noseCentre : virtualTipOf(tip, mount));

/** A direction in the file's coordinates as the side of a corner: -1, 0 or 1 along the mount's X and Z. */
export function cornerTowards(direction: Vec3, mount: Frame): Tip['corner'] {
  const { r } = frameFromWorld(mount);
  const x = r[0] * direction[0] + r[1] * direction[1] + r[2] * direction[2];
  const z = r[6] * direction[0] + r[7] * direction[1] + r[8] * direction[2];
  const reach = Math.hypot(x, z);
  const side = (v: number) => (reach > 0 && Math.abs(v) / reach > 0.17 ? (v > 0 ? 1 : -1) : 0);
  return { x: side(x), z: side(z) };
}

/** What changes with a new mount: the sides of the tips' corners are told along its axes, so they are told anew. */
export function withMount(record: Pick<ComponentRecord, 'mount' | 'tips'>, mount: ComponentRecord['mount']): Pick<ComponentRecord, 'mount' | 'tips'> {
  const before = mountFrameOf(record);
  const after = mountFrameOf({ mount });
  const tips = record.tips.map((tip): Tip => {
    const towards = tip.towards ?? addScaled(addScaled([0, 0, 0], before.x, tip.corner.x), before.z, tip.corner.z);
    return { ...tip, corner: cornerTowards(towards, after) };
  });
  return { mount, tips };
}

/** The bodies that a kind of geometry is made of; left-out ones never are. */
export function bodiesFor(record: { readonly bodies: readonly Pick<BodyEntry, 'id' | 'role'>[] }, target: GeometryTarget): string[] {
  return record.bodies.filter((b) => (target === 'cutting' ? b.role === 'cutting' : b.role === 'tool body' || b.role === 'hardware')).map((b) => b.id);
}

/** Whether a component spins about its mount's axis when it works: what holds round tools, and round tools themselves. */
export const spinsInWork = ({
  componentKind,
  mount,
}: Pick<ComponentRecord, 'componentKind'> & { readonly mount: { readonly connection: { readonly standard: string } } | null }): boolean =>
  mount !== null && ['holder', 'adapter', 'cutter'].includes(componentKind) && !['square', 'bolted face'].includes(mount.connection.standard);

type Worked = Pick<ComponentRecord, 'source' | 'cuts' | 'inserts' | 'moves'>;

// The source and what was done to its bodies.
const workInputs = ({ source: { blob: source, unitScale, foundScale }, cuts, inserts, moves }: Worked) => ({
  source,
  work: { scale: unitScale / foundScale, cuts: cuts.map(({ id: _, note: __, ...cut }) => cut), inserts, moves },
});

/** The key of plan outlines: source, bodies, turning plane and tolerance. */
export const planInputs = (record: Worked & Pick<ComponentRecord, 'bodies' | 'mount'>, tolerance: number): string =>
  hashPlain({ ...workInputs(record), bodies: GEOMETRY_TARGETS.map((t) => bodiesFor(record, t)), frame: mountFrameOf(record), tolerance });

/** The plan outlines, if they still fit what the component is now. */
export const freshPlan = (record: ComponentRecord): PlanRecord | undefined =>
  record.plan && record.plan.inputs === planInputs(record, record.plan.tolerance) ? record.plan : undefined;

/** The key of made geometry: source, bodies, axis and what was chosen. Equal keys mean an equal result. */
export function geometryInputs(
  record: Pick<ComponentRecord, 'source' | 'bodies' | 'mount' | 'cuts' | 'inserts' | 'moves' | 'componentKind'>,
  target: GeometryTarget,
  choice: GeometryChoice,
): string {
  const { origin, z } = mountFrameOf(record);
  const { mode, overrides } = choice;
  const turns = mode === 'revolved' || Object.values(overrides).includes('revolved') || (mode === 'auto' && spinsInWork(record));
  // What was made before gaps could be bridged stays what it is.
  const { bridge, ...rest } = choiceOf(choice);
  const chosen = bridge > 0 ? { ...rest, bridge } : rest;
  return hashPlain({ ...workInputs(record), bodies: bodiesFor(record, target), ...chosen, axis: turns ? { origin, z } : null });
}

/** The geometry that was made for a target, if it still fits what the component is now. */
export function freshGeometry(record: ComponentRecord, target: GeometryTarget): MadeGeometry | undefined {
  return record.geometry.find((g) => g.target === target && g.inputs === geometryInputs(record, target, g));
}

/** mm. What a part is made within where nobody chose. */
export const DEFAULT_TOLERANCE: Readonly<Record<GeometryTarget, number>> = { cutting: 0.01, 'non-cutting': 0.05 };

/** mm. Openings that a wrap closes where nobody chose: bolt holes and coolant connections. */
export const DEFAULT_CLOSE_BELOW = 14;

/** How a target of a component is to be made for handing over: as was chosen on the Bench, else a cutting part exact and the rest as light as it can be. */
export function chosenGeometry(record: Pick<ComponentRecord, 'geometry'>, target: GeometryTarget): GeometryChoice {
  const made = record.geometry.find((g) => g.target === target);
  return made ? choiceOf(made) : { ...DEFAULT_CHOICE, mode: target === 'cutting' ? 'exact' : 'auto', tolerance: DEFAULT_TOLERANCE[target] };
}

/** What nobody chose. */
export const DEFAULT_CHOICE = {
  closeBelow: DEFAULT_CLOSE_BELOW,
  overrides: {},
  bores: 'closed',
  bridge: 0,
  drawn: null,
} as const satisfies Partial<GeometryChoice>;

/** Only what was chosen, of something that has more. */
export const choiceOf = ({ mode, tolerance, closeBelow, overrides, bores, bridge, drawn }: GeometryChoice): GeometryChoice => ({
  mode,
  tolerance,
  closeBelow,
  overrides,
  bores,
  bridge,
  drawn,
});

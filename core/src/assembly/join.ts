import { failed, type Result } from '#core/issues';
import { bringFrame, compose, type Frame, frameFromWorld, type Motion, move, radFromDeg, rotationAbout, translation, turn, type Vec3 } from '#core/math';
import { type AssemblyRecord, type ComponentRecord, mountFrameOf, type Piece, programmedPointOf, type Tip } from '#core/records';
import { checkFit } from '#core/standards';

export type ComponentsById = Readonly<Record<string, ComponentRecord | undefined>>;

/** The piece that an assembly begins with, at the machine; undefined where it has none, or its component is gone. */
export const firstPiece = (assembly: Pick<AssemblyRecord, 'pieces'> | undefined, components: ComponentsById): ComponentRecord | undefined =>
  components[assembly?.pieces[0]?.componentId ?? ''];

/**
 * seat-from-child: the child's mount frame onto the seat frame, then the stick-out along the seat's Z and the roll about
 * it. Both frames in their own file's coordinates; the result takes the child's file coordinates into the parent's.
 */
export function parentFromChild(seat: Frame, mount: Frame, stickOut: number, rollDeg: number): Motion {
  const seated = bringFrame(mount, seat);
  const rolled = rotationAbout(seat.origin, seat.z, radFromDeg(rollDeg));
  const out = translation([seat.z[0] * stickOut, seat.z[1] * stickOut, seat.z[2] * stickOut]);
  return compose(out, compose(rolled, seated));
}

/**
 * gauge-from-file for every piece that is connected to the first one. The gauge frame is the first piece's mount frame, moved along its Z to the gauge line where
 * that stands elsewhere.
 */
export function placePieces(assembly: ChainOfPieces, components: ComponentsById): Map<string, Motion> {
  const fromMount = placeFromMount(assembly, components);
  const at = gaugeLineAt(assembly, components, fromMount)?.at ?? 0;
  if (at === 0) return fromMount;
  const back = translation([0, 0, -at]);
  return new Map([...fromMount].map(([id, motion]) => [id, compose(back, motion)]));
}

/** Where a gauge line stands: mm along the gauge axis from the mount of the first piece; on which piece, where in the coordinates of its file, and what that is called. */
export interface GaugeLineAt {
  readonly at: number;
  readonly piece: string;
  readonly place: Vec3;
  readonly name: string;
}

/** Where the gauge line stands; undefined where it stands at the mount of the first piece: nothing else is said, or what was said is not there any more. */
export function gaugeLineAt(assembly: ChainOfPieces, components: ComponentsById, fromMount = placeFromMount(assembly, components)): GaugeLineAt | undefined {
  const { gaugeLine: said } = assembly;
  const piece = assembly.pieces.find((p) => p.id === said?.pieceId);
  const motion = piece && fromMount.get(piece.id);
  const component = components[piece?.componentId ?? ''];
  if (!said || !motion || !component) return undefined;
  const stands = (place: Vec3, name: string): GaugeLineAt => ({ at: move(motion, place)[2], piece: piece.id, place, name });
  if ('at' in said) return said.componentId === component.id ? stands(said.at, said.name) : undefined;
  const seat = component.seats.find((s) => s.id === said.seatId);
  return seat && stands(seat.frame.origin, `${seat.name} of ${component.name}`);
}

function placeFromMount(assembly: Pick<AssemblyRecord, 'pieces'>, components: ComponentsById): Map<string, Motion> {
  const placed = new Map<string, Motion>();
  const byId = new Map(assembly.pieces.map((p) => [p.id, p]));
  const place = (piece: Piece, path: readonly string[]): Motion | undefined => {
    const known = placed.get(piece.id);
    if (known || path.includes(piece.id)) return known;
    const component = components[piece.componentId];
    if (!component) return undefined;
    let motion: Motion | undefined;
    if (!piece.parent) motion = frameFromWorld(mountFrameOf(component));
    else {
      const parent = byId.get(piece.parent.pieceId);
      const gaugeFromParent = parent && place(parent, [...path, piece.id]);
      const seat = parent && components[parent.componentId]?.seats.find((s) => s.id === piece.parent?.seatId);
      if (gaugeFromParent && seat && component.mount)
        motion = compose(gaugeFromParent, parentFromChild(seat.frame, component.mount.frame, piece.stickOut, piece.rollDeg));
    }
    if (motion) placed.set(piece.id, motion);
    return motion;
  };
  for (const piece of assembly.pieces) place(piece, []);
  return placed;
}

/** Whether a component can be put on a seat of a piece: it has a mount, the seat exists, and they fit. */
export function checkJoin(child: ComponentRecord, parent: ComponentRecord, seatId: string): Result<true> {
  const seat = parent.seats.find((s) => s.id === seatId);
  if (!seat) return failed('join.no-seat', { piece: parent.name, seat: seatId });
  if (!child.mount) return failed('join.no-mount', { piece: child.name });
  return checkFit(child.mount.connection, seat.connection);
}

/** A tip in the gauge frame: L along Z, Q along X, Y its height over the turning plane; all of the programmed point. */
export interface PlacedTip {
  readonly piece: string;
  readonly tip: string;
  readonly name: string;
  readonly L: number;
  readonly Q: number;
  readonly Y: number;
  readonly noseRadius: number;
  readonly noseCentre: Vec3;
  readonly virtualTip: Vec3;
  readonly programmedPoint: Tip['programmedPoint'] | 'picked point';
  /** The programmed point itself. */
  readonly point: Vec3;
}

/** A chain, with what is said of its edges and its gauge line where that is known. */
export type ChainOfPieces = Pick<AssemblyRecord, 'pieces'> & Partial<Pick<AssemblyRecord, 'edges' | 'gaugeLine'>>;

/**
 * The tips of all placed pieces, in the gauge frame; what is programmed is what is said of the edge, else what the tool says. The virtual tip's sides follow
 * the tool's own mount frame, so a tool that sits turned by a quarter in its seat has its virtual tip turned with it.
 */
export function placeTips(assembly: ChainOfPieces, components: ComponentsById, placed = placePieces(assembly, components)): PlacedTip[] {
  return assembly.pieces.flatMap((piece) => {
    const component = components[piece.componentId];
    const gaugeFromFile = placed.get(piece.id);
    if (!component || !gaugeFromFile) return [];
    const mount = mountFrameOf(component);
    return component.tips.map((tip): PlacedTip => {
      const said = assembly.edges?.find((e) => e.pieceId === piece.id && e.tipId === tip.id)?.point ?? tip.programmedPoint;
      const point = move(gaugeFromFile, typeof said === 'string' ? programmedPointOf({ ...tip, programmedPoint: said }, mount) : said.at);
      const virtual = programmedPointOf({ ...tip, programmedPoint: 'virtual tip' }, mount);
      return {
        piece: piece.id,
        tip: tip.id,
        name: tip.name,
        L: point[2],
        Q: point[0],
        Y: point[1],
        noseRadius: tip.noseRadius,
        noseCentre: move(gaugeFromFile, tip.noseCentre),
        virtualTip: move(gaugeFromFile, virtual),
        programmedPoint: typeof said === 'string' ? said : 'picked point',
        point,
      };
    });
  });
}

/** A seat of a placed piece, in the gauge frame. */
export function placeFrame(gaugeFromFile: Motion, frame: Frame): Frame {
  return { origin: move(gaugeFromFile, frame.origin), z: turn(gaugeFromFile, frame.z), x: turn(gaugeFromFile, frame.x) };
}

/** The tip that the gauge length is told by: the outermost piece's first; undefined without a tip. */
export function measuredTip(assembly: Pick<AssemblyRecord, 'pieces'>, tips: readonly PlacedTip[]): PlacedTip | undefined {
  const outermost = assembly.pieces.findLast((p) => tips.some((t) => t.piece === p.id));
  return tips.find((t) => t.piece === outermost?.id);
}

/** The gauge length: from the gauge line to what is programmed of the measured tip; undefined without a tip. */
export const gaugeLengthOf = (assembly: Pick<AssemblyRecord, 'pieces'>, tips: readonly PlacedTip[]): number | undefined => measuredTip(assembly, tips)?.L;

/** The pieces without one of them and all that sits on it. */
export function removePiece(pieces: readonly Piece[], pieceId: string): Piece[] {
  const gone = new Set([pieceId]);
  // Pieces come after their parents, so one pass takes the whole branch.
  for (const piece of pieces) if (piece.parent && gone.has(piece.parent.pieceId)) gone.add(piece.id);
  return pieces.filter((p) => !gone.has(p.id));
}

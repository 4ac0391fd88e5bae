import { say } from '#core/issues';
import { CENTRE_HEIGHT_LIMIT, ENCLOSURE_SLACK, dot, isOrthonormal, isRigid, type Motion, roundTo } from '#core/math';
import { furthestAlong, type Model } from '#core/mesh';
import {
  type AssemblyRecord,
  check,
  type Check,
  type ComponentRecord,
  type Connection,
  freshGeometry,
  type MadeGeometry,
  mountFrameOf,
  type Piece,
  useOf,
} from '#core/records';
import { sayConnection, SEATS_ON_FACE } from '#core/standards';
import { checkJoin, type ComponentsById, gaugeLineAt, placePieces, placeTips } from './join.ts';

// Asked of every piece with each change of an assembly, while a stick-out is slid with each move.
const REACH = new WeakMap<ComponentRecord, { readonly model: Pick<Model, 'bodies'>; readonly reach: [number, number] }>();

/** How far a component reaches along its mount's Z, in mm: [behind, in front of] the mount. */
export function reachAlongMount(component: ComponentRecord, model: Pick<Model, 'bodies'>): [number, number] {
  const known = REACH.get(component);
  if (known?.model === model) return known.reach;
  const { origin, z } = mountFrameOf(component);
  const along = dot(origin, z);
  const used = model.bodies.filter((b) => component.bodies.find((e) => e.id === b.id)?.role !== 'left out');
  const front = Math.max(-Infinity, ...used.map((b) => furthestAlong(b.mesh, z))) - along;
  const behind = -Math.max(-Infinity, ...used.map((b) => furthestAlong(b.mesh, [-z[0], -z[1], -z[2]]))) - along;
  const reach: [number, number] = [behind, front];
  REACH.set(component, { model, reach });
  return reach;
}

/**
 * The checks of an assembly, from its records and, where given, its models (by component id). Rules: every piece marked and
 * connected, connections fit, faces seat without stick-out, shanks are held long enough (twice the diameter, a rule of
 * thumb of the trade), tips near the turning plane, geometry proven, bodies closed, names unique, numbers finite.
 */
export function checkAssembly(assembly: AssemblyRecord, components: ComponentsById, models: Readonly<Record<string, Model | undefined>> = {}): Check[] {
  const checks: Check[] = [];
  const placed = placePieces(assembly, components);
  if (assembly.pieces.length === 0) checks.push(check('pieces', 'fail', 'The assembly has no pieces.'));
  for (const piece of assembly.pieces) checks.push(...checkPiece(piece, assembly, components, placed, models));
  if (assembly.gaugeLine && !gaugeLineAt(assembly, components))
    checks.push(check('gauge-line', 'warn', 'What the gauge line stood at is not there any more: lengths are told from the mount of the first piece.'));
  checks.push(...checkTips(assembly, components, placed), ...checkEdges(assembly, components), ...checkNames(assembly, components));
  return checks;
}

function checkPiece(
  piece: Piece,
  assembly: AssemblyRecord,
  components: ComponentsById,
  placed: Map<string, Motion>,
  models: Readonly<Record<string, Model | undefined>>,
): Check[] {
  const component = components[piece.componentId];
  if (!component) return [check('component-there', 'fail', `The component of piece ${piece.id} is missing from the Shelf.`)];
  const out: Check[] = [];
  const { name } = component;
  out.push(
    component.mount
      ? check('mount-set', 'pass', `${name}: mount ${sayConnection(component.mount.connection)}`)
      : check('mount-set', 'fail', `${name} has no mount.`),
  );
  for (const c of [component.mount, ...component.seats]) {
    if (c && !isOrthonormal(c.frame)) out.push(check('frame-orthonormal', 'fail', `${name}: the frame of ${c.name} is not square.`));
  }
  if (piece.parent) {
    const parent = assembly.pieces.find((p) => p.id === piece.parent?.pieceId);
    const parentComponent = parent && components[parent.componentId];
    if (!parentComponent) out.push(check('floating', 'fail', `${name} sits on a piece that is not there.`));
    else out.push(...checkSeating(piece, component, parentComponent, models[component.id]));
  }
  const motion = placed.get(piece.id);
  if (!motion) out.push(check('placed', 'fail', `${name} is not connected to the machine side, so it has no place.`));
  else if (!isRigid(motion)) out.push(check('placed', 'fail', `${name}: its place is not a rigid motion.`));
  out.push(...checkGeometry(component, models[component.id]));
  return out;
}

/** mm of a shank that its seat holds at least: what the seat says, or twice the shank (a rule of thumb of the trade). */
export const leastHeld = (seat: Pick<Connection, 'leastIn'>, mount: Pick<Connection, 'connection'>): number =>
  seat.leastIn ?? 2 * Number.parseFloat(String(mount.connection.size));

function checkSeating(piece: Piece, child: ComponentRecord, parent: ComponentRecord, model: Model | undefined): Check[] {
  const fit = checkJoin(child, parent, piece.parent?.seatId ?? '');
  if (!fit.ok) return [check('fit', 'fail', `${child.name} on ${parent.name}: ${fit.issues.map(say).join(' ')}`)];
  const seat = parent.seats.find((s) => s.id === piece.parent?.seatId);
  const out = [check('fit', 'pass', `${child.name} fits ${seat?.name} of ${parent.name}`)];
  const mount = child.mount;
  if (!mount || !seat) return out;
  if (SEATS_ON_FACE.includes(mount.connection.standard)) {
    const off = Math.abs(piece.stickOut);
    out.push(
      off < 1e-6
        ? check('face-contact', 'pass', `${child.name} seats on its face`)
        : check(
            'face-contact',
            'fail',
            `${child.name}: a ${sayConnection(mount.connection)} mount seats on its face, but stands off by ${roundTo(piece.stickOut, 3)} mm.`,
            { value: piece.stickOut, limit: 0 },
          ),
    );
    return out;
  }
  if (!model) return out;
  const [behind] = reachAlongMount(child, model);
  const clamped = -(behind + piece.stickOut);
  const needed = leastHeld(seat, mount);
  const why = seat.leastIn === undefined ? `twice the shank (${needed} mm) is usual` : `${seat.name} wants ${needed} mm at least`;
  const numbers = { value: roundTo(clamped, 3), limit: needed };
  if (clamped <= 0) out.push(check('clamping-length', 'fail', `${child.name} floats ${roundTo(-clamped, 3)} mm in front of its seat.`, numbers));
  else if (clamped < needed) out.push(check('clamping-length', 'warn', `${child.name} is pushed in by ${roundTo(clamped, 3)} mm; ${why}.`, numbers));
  else out.push(check('clamping-length', 'pass', `${child.name} is pushed in by ${roundTo(clamped, 3)} mm`, numbers));
  return out;
}

function checkGeometry(component: ComponentRecord, model: Model | undefined): Check[] {
  const out: Check[] = [];
  const open = model?.bodies.filter((b) => !b.closed && component.bodies.find((e) => e.id === b.id)?.role !== 'left out') ?? [];
  if (model)
    out.push(
      open.length === 0
        ? check('closed', 'pass', `${component.name}: all bodies closed`)
        : check('closed', 'fail', `${component.name}: ${open.map((b) => b.name).join(', ')} not closed.`),
    );
  for (const target of ['cutting', 'non-cutting'] as const) {
    const made = freshGeometry(component, target);
    if (!made) continue;
    out.push(checkGrowth(`${component.name}, ${target}`, made));
  }
  return out;
}

// Made geometry as its proof found it: wrong where it cuts in or is open, worth a look where it stands out too far or goes through itself.
function checkGrowth(what: string, { mode, tolerance, growth, closed, parts }: MadeGeometry): Check {
  const numbers = { value: growth.min, limit: 0 };
  if (!closed) return check('growth', 'fail', `${what}: the ${mode} geometry is not closed.`, numbers);
  if (growth.min < -ENCLOSURE_SLACK) {
    const [worst] = [...parts].sort((a, b) => a.growth.min - b.growth.min);
    const at = worst ? ` at ${worst.leastAt.map((v) => v.toFixed(2)).join(', ')} of its file` : '';
    return check('growth', 'fail', `${what}: the ${mode} geometry cuts ${(-growth.min).toFixed(4)} mm into the tool${at}.`, numbers);
  }
  const crossings = parts.reduce((n, p) => n + p.crossings, 0);
  if (growth.max > tolerance + ENCLOSURE_SLACK)
    return check('growth', 'warn', `${what}: the ${mode} geometry stands out by ${growth.max.toFixed(3)} mm, over its tolerance of ${tolerance}.`, {
      value: growth.max,
      limit: tolerance,
    });
  if (crossings > 0)
    return check('growth', 'warn', `${what}: the ${mode} geometry goes through itself in ${crossings} places.`, { value: crossings, limit: 0 });
  return check('growth', 'pass', `${what}: growth ${roundTo(growth.min, 3).toFixed(3)} to ${roundTo(growth.max, 3).toFixed(3)} mm`, numbers);
}

// One number of offsets belongs to one edge; what is said of an edge belongs to a tip that is there.
function checkEdges(assembly: AssemblyRecord, components: ComponentsById): Check[] {
  const out: Check[] = [];
  const byNumber = new Map<number, string[]>();
  for (const edge of assembly.edges) {
    const component = components[assembly.pieces.find((p) => p.id === edge.pieceId)?.componentId ?? ''];
    const tip = component?.tips.find((t) => t.id === edge.tipId);
    const name = edge.name || component?.name || edge.pieceId;
    if (!tip) out.push(check('edges', 'warn', `${name}: the tip that this edge was said of is not there any more.`));
    const runs = component && (tip?.runs?.sense ?? useOf(component)?.sense);
    if (tip && edge.sense && runs && edge.sense !== runs)
      out.push(
        check(
          'edges',
          'warn',
          `${name}: said to cut with ${edge.sense}, but the tool cuts with ${runs}${tip.runs || component.use.sense ? '' : ' as its hand tells'}.`,
        ),
      );
    if (edge.number !== undefined) byNumber.set(edge.number, [...(byNumber.get(edge.number) ?? []), name]);
  }
  for (const [number, names] of byNumber)
    if (names.length > 1) out.push(check('edges', 'fail', `Offset ${number} is said of ${names.join(' and ')}: each edge needs its own.`, { value: number }));
  return out;
}

function checkTips(assembly: AssemblyRecord, components: ComponentsById, placed: Map<string, Motion>): Check[] {
  const tips = placeTips(assembly, components, placed);
  if (tips.length === 0) return [check('tip-set', 'warn', 'No piece has a tip, so there is no gauge length.')];
  return tips.map((tip) => {
    // Of the edge itself, whatever is programmed of it.
    const Y = tip.virtualTip[1];
    const numbers = { value: roundTo(Y, 6), limit: CENTRE_HEIGHT_LIMIT };
    return Math.abs(Y) <= CENTRE_HEIGHT_LIMIT
      ? check('centre-height', 'pass', `${tip.name}: on the turning plane within ${CENTRE_HEIGHT_LIMIT} mm`, numbers)
      : check(
          'centre-height',
          'warn',
          `${tip.name} lies ${roundTo(Y, 3)} mm off the turning plane: a 40 mm part changes by about ${roundTo(((Y * Y) / 40) * 1000, 1)} µm on the radius.`,
          numbers,
        );
  });
}

function checkNames(assembly: AssemblyRecord, components: ComponentsById): Check[] {
  const ids = assembly.pieces.map((p) => p.id);
  const doubled = ids.find((id, i) => ids.indexOf(id) !== i);
  if (doubled !== undefined) return [check('names-unique', 'fail', `Two pieces are called ${doubled}.`)];
  const numbers = assembly.pieces.flatMap((p) => [
    p.stickOut,
    p.rollDeg,
    ...(components[p.componentId]?.tips ?? []).flatMap((t) => [...t.noseCentre, t.noseRadius]),
  ]);
  return [
    numbers.every(Number.isFinite) ? check('numbers-finite', 'pass', 'Every number is finite') : check('numbers-finite', 'fail', 'A number is not finite.'),
  ];
}

import { silhouetteOf } from '#core/envelope';
import type { FlatBooleans } from '#core/kernel';
import { type Frame, frameFromWorld, roundTo, yOf } from '#core/math';
import { done, failed, type Result } from '#core/issues';
import { type Model, movePoints, type TriMesh, weld } from '#core/mesh';
import { type CarrierOf, type Chuck, type ComponentRecord, hashPlain, type MeasuredChuck, type MeasuredDisc } from '#core/records';

// Shapes of a machine as they are measured of a component's model about its mount: data that hold without it, and are never inside of it but for its triangles' chords.

/** What the shape of a machine follows from: once it differs from what was measured, the component has changed. */
export const measuredFrom = ({ model, mount, bodies }: ComponentRecord): string => hashPlain([model.blob, mount?.frame ?? null, bodies.map((b) => b.role)]);

const measuredOf = (component: ComponentRecord) => ({ component: component.id, name: component.name, inputs: measuredFrom(component) });

const widthOf = (steps: MeasuredChuck['steps']): number => roundTo(2 * Math.max(...steps.map((s) => s.radius)), 3);

const meshesOf = ({ bodies }: ComponentRecord, model: Model): TriMesh[] =>
  model.bodies.filter((b) => bodies.find((r) => r.id === b.id)?.role !== 'left out').map((b) => weld(b.mesh));

/** A chuck with the shape of a component, whose mount sits on the nose face and looks at the work; how far its jaws stand out stays as it is said. */
export function chuckLike(chuck: Chuck, component: ComponentRecord, model: Model): Result<Chuck> {
  if (!component.mount) return failed('machine.no-mount', { name: component.name });
  const steps = stepsAbout(meshesOf(component, model), component.mount.frame).filter((s) => s.to > 0);
  const end = steps.at(-1)?.to ?? 0;
  if (end <= 0) return failed('machine.behind-mount', { name: component.name });
  const jawHeight = Math.min(chuck.jawHeight, end);
  const measured = { ...measuredOf(component), steps: steps.map((s) => ({ ...s, from: Math.max(0, s.from) })) };
  return done({ ...chuck, jawHeight, length: roundTo(end - jawHeight, 3), diameter: widthOf(steps), measured });
}

/** A disc with the shape of a component, whose mount lies on the index axis in the plane of the seats, Z towards the spindle that it faces and X towards the spindle axis. */
export function discLike(component: ComponentRecord, model: Model, flat: FlatBooleans): Result<CarrierOf<'turret'>['disc']> {
  const shape = slabsOf(component, model, flat);
  if (!shape.ok) return shape;
  const { diameter, from, to, measured } = shape.value;
  return done({ diameter, width: roundTo(to - from, 3), measured });
}

/** A swivel head with the shape of a component, whose mount lies in the seat, Z towards the tool and X as the tool's own. */
export function headLike(component: ComponentRecord, model: Model, flat: FlatBooleans): Result<NonNullable<CarrierOf<'swivel head'>['head']>> {
  const shape = slabsOf(component, model, flat);
  if (!shape.ok) return shape;
  const { diameter, from, measured } = shape.value;
  if (from >= 0) return failed('machine.no-body', { name: component.name });
  return done({ noseDiameter: diameter, noseLength: 0, diameter, length: roundTo(-from, 3), measured });
}

// What stands still, about its mount, with how wide it is and how far it reaches.
function slabsOf(component: ComponentRecord, model: Model, flat: FlatBooleans) {
  const { mount, name } = component;
  if (!mount) return failed('machine.no-mount', { name });
  const meshes = meshesOf(component, model);
  const slabs = slabsAlong(meshes, mount.frame, flat);
  const [first, last] = [slabs[0], slabs.at(-1)];
  if (!first || !last) return failed('machine.no-body', { name });
  return done({ diameter: widthOf(stepsAbout(meshes, mount.frame)), from: first.from, to: last.to, measured: { ...measuredOf(component), slabs } });
}

// mm. What a step may stand out over what it holds.
const COARSE = 0.25;
const MOST_STEPS = 60;
// mm. Corners nearer than that along Z count as one height.
const SAME_HEIGHT = 1e-4;
const MOST_HEIGHTS = 4000;

/** What meshes sweep as they turn about Z of a frame: cylinders one behind the other. They stand out by 0.25 mm at most, unless there were more than 60 of them. */
export function stepsAbout(meshes: readonly TriMesh[], frame: Frame): MeasuredChuck['steps'] {
  const own = meshes.map(({ positions, triangles }) => ({ p: movePoints(frameFromWorld(frame), positions), t: triangles }));
  const heights = heightsOf(own.flatMap(({ p }) => Array.from({ length: p.length / 3 }, (_, i) => p[3 * i + 2])));
  const radius = new Float64Array(Math.max(0, heights.length - 1));
  for (const { p, t } of own)
    for (let i = 0; i < t.length; i += 3)
      for (const [a, b] of [
        [t[i], t[i + 1]],
        [t[i + 1], t[i + 2]],
        [t[i + 2], t[i]],
      ])
        alongEdge(p, a, b, heights, radius);
  return fewerSteps(Array.from(radius, (r, i) => ({ from: heights[i], to: heights[i + 1], radius: r, least: r }))).map(({ from, to, radius: r }) => ({
    from,
    to,
    radius: r,
  }));
}

// Between two heights there is no corner (or none that is told apart), so that the largest radius is at the ends of edges that run through there.
function alongEdge(p: Float64Array, a: number, b: number, heights: Float64Array, radius: Float64Array): void {
  const [low, high] = p[3 * a + 2] <= p[3 * b + 2] ? [3 * a, 3 * b] : [3 * b, 3 * a];
  const [from, to] = [p[low + 2], p[high + 2]];
  const at = (z: number): number => {
    const s = to - from < SAME_HEIGHT ? 1 : Math.min(1, Math.max(0, (z - from) / (to - from)));
    return Math.hypot(p[low] + s * (p[high] - p[low]), p[low + 1] + s * (p[high + 1] - p[low + 1]));
  };
  for (let k = firstAbove(heights, from + SAME_HEIGHT) - 1; k < radius.length && heights[k] < to - SAME_HEIGHT; k++)
    if (k >= 0) radius[k] = Math.max(radius[k], at(Math.max(from, heights[k])), at(Math.min(to, heights[k + 1])));
}

// The number of the first height that is above z.
function firstAbove(heights: Float64Array, z: number): number {
  let [low, high] = [0, heights.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (heights[middle] > z) high = middle;
    else low = middle + 1;
  }
  return low;
}

// Different heights of corners, sorted; of very many those that are a little apart, the ends always.
function heightsOf(all: readonly number[]): Float64Array {
  const sorted = Float64Array.from(all).sort();
  if (sorted.length === 0) return sorted;
  const [first, last] = [sorted[0], sorted[sorted.length - 1]];
  const thinned = (apart: number) => {
    const out = [first];
    for (const z of sorted) if (z > out[out.length - 1] + apart && z < last - apart) out.push(z);
    return Float64Array.from([...out, last]);
  };
  const own = thinned(SAME_HEIGHT);
  return own.length <= MOST_HEIGHTS ? own : thinned((last - first) / MOST_HEIGHTS);
}

interface Step {
  readonly from: number;
  readonly to: number;
  readonly radius: number;
  readonly least: number;
}

// Neighbours become one, those first that add least: as far as they stay near, then until they are few.
function fewerSteps(all: Step[]): Step[] {
  const steps = all.filter((s) => s.to > s.from);
  const joined = (a: Step, b: Step): Step => ({ from: a.from, to: b.to, radius: Math.max(a.radius, b.radius), least: Math.min(a.least, b.least) });
  const added = (a: Step, b: Step) => Math.abs(a.radius - b.radius) * (a.radius < b.radius ? a.to - a.from : b.to - b.from);
  const isNear = (a: Step, b: Step) => joined(a, b).radius - joined(a, b).least <= COARSE;
  for (;;) {
    let best = -1;
    for (let i = 0; i + 1 < steps.length; i++) {
      if (steps.length <= MOST_STEPS && !isNear(steps[i], steps[i + 1])) continue;
      if (best < 0 || rank(steps[i], steps[i + 1]) < rank(steps[best], steps[best + 1])) best = i;
    }
    if (best < 0) return steps;
    steps.splice(best, 2, joined(steps[best], steps[best + 1]));
  }
  function rank(a: Step, b: Step): number {
    return added(a, b) + (isNear(a, b) ? 0 : 1e9);
  }
}

// Faces square to the axis that make less than this of the whole do not divide it.
const LEAST_FACE = 0.01;
const MOST_SLABS = 12;
// mm. Ends of a slab that lie beside the faces in them, not on corners.
const BESIDE = 1e-4;

/** What closed meshes cover across Z of a frame, as prisms between their largest faces square to it; each as wide as they are anywhere along it. */
export function slabsAlong(meshes: readonly TriMesh[], frame: Frame, flat: FlatBooleans): MeasuredDisc['slabs'] {
  const heights = faceHeights(meshes, frame);
  // Seen along Y of this one.
  const across: Frame = { origin: frame.origin, z: frame.x, x: yOf(frame) };
  return heights.slice(1).flatMap((to, i) => {
    const from = heights[i];
    const outline = silhouetteOf(meshes, across, flat, { low: from + BESIDE * 1.37, high: to - BESIDE * 1.37 });
    return outline.length > 0 ? [{ from, to, outline }] : [];
  });
}

function faceHeights(meshes: readonly TriMesh[], frame: Frame): number[] {
  const faces = new Map<number, { z: number; area: number }>();
  let [low, high, whole] = [Infinity, -Infinity, 0];
  for (const { positions, triangles: t } of meshes) {
    const p = movePoints(frameFromWorld(frame), positions);
    for (let i = 0; i < t.length; i += 3) {
      const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
      const zs = [p[a + 2], p[b + 2], p[c + 2]];
      [low, high] = [Math.min(low, ...zs), Math.max(high, ...zs)];
      const area = Math.abs((p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[c] - p[a]) * (p[b + 1] - p[a + 1])) / 2;
      whole += area;
      if (Math.max(...zs) - Math.min(...zs) > SAME_HEIGHT) continue;
      const key = Math.round(zs[0] / 1e-3);
      const face = faces.get(key) ?? { z: zs[0], area: 0 };
      face.area += area;
      faces.set(key, face);
    }
  }
  const inside = [...faces.values()]
    .filter(({ z, area }) => area > LEAST_FACE * whole && z > low + 0.01 && z < high - 0.01)
    .sort((a, b) => b.area - a.area)
    .slice(0, MOST_SLABS - 1)
    .map(({ z }) => z);
  return [low, ...inside.sort((a, b) => a - b), high];
}

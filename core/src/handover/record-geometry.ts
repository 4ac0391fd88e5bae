import { failed, type Result, done } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { encodeModel, meshBounds, meshCentroid, type Model } from '#core/mesh';
import {
  bodiesFor,
  type ComponentRecord,
  type GeometryChoice,
  geometryInputs,
  type GeometryPartRecord,
  hashBytes,
  type MadeGeometry,
  mountFrameOf,
  spinsInWork,
} from '#core/records';
import { roundTo } from '#core/math';
import { type GeometryPart, makeGeometry } from './make-geometry.ts';
import { workOf } from './source-file.ts';

/** Geometry as a record keeps it, and its meshes as a blob: a model with a body for each part. */
export interface RecordGeometry {
  readonly geometry: MadeGeometry;
  readonly blob: Uint8Array<ArrayBuffer>;
}

type Progress = (share: number, text: string) => void;

/** Makes geometry for a component and gives what its record keeps of it, with the meshes as a blob: a model with a body for each part. */
export async function makeRecordGeometry(
  kernel: Kernel,
  record: ComponentRecord,
  bytes: Uint8Array,
  target: MadeGeometry['target'],
  choice: GeometryChoice,
  onProgress?: Progress,
): Promise<Result<RecordGeometry>> {
  const bodies = bodiesFor(record, target);
  const made = await makeGeometry(kernel, {
    bytes,
    file: record.source.fileName,
    bodies,
    work: workOf(record),
    ...choice,
    frame: mountFrameOf(record),
    spins: target === 'non-cutting' && spinsInWork(record),
    onProgress,
  });
  if (!made.ok) return made;
  const { mesh: _, parts, profile, ...report } = made.value;
  const blob = encodeModel({
    format: 'step',
    unit: 'mm',
    unitScale: 1,
    chordTolerance: choice.tolerance,
    bodies: parts.map((part, i) => partAsBody(part, `p${i + 1}`)),
  });
  return done({
    geometry: {
      target,
      ...choice,
      parts: parts.map(partRecord),
      inputs: geometryInputs(record, target, choice),
      blob: hashBytes(blob),
      bodies,
      ...report,
      milliseconds: Math.round(report.milliseconds),
      ...(profile ? { profile } : {}),
    },
    blob,
  });
}

// mm. Between these a tolerance is looked for.
const FINEST = 0.001;
const COARSEST = 5;
// Where two tolerances differ by less than this factor, the finer one that keeps the budget is taken.
const NEAR_ENOUGH = 1.15;

/**
 * Geometry of at most `budget` triangles with the least tolerance that gives so few, found by halving between tolerances; it is asked for with that
 * tolerance, so that it can be made again. Refused where even the greatest tolerance takes more.
 */
export async function makeRecordGeometryWithin(
  kernel: Kernel,
  record: ComponentRecord,
  bytes: Uint8Array,
  target: MadeGeometry['target'],
  choice: GeometryChoice,
  budget: number,
  onProgress?: Progress,
): Promise<Result<RecordGeometry>> {
  if (!(budget >= 12 && budget <= 1e7)) return failed('envelope.bad-budget', { triangles: budget });
  let round = 0;
  const attempt = (tolerance: number) => {
    const before = 1 - 0.75 ** round++;
    return makeRecordGeometry(kernel, record, bytes, target, { ...choice, tolerance }, (share) =>
      onProgress?.(before + share * 0.25 * (1 - before), `Within ${tolerance.toFixed(3)} mm, for ${budget.toLocaleString('en')} triangles`),
    );
  };
  let tolerance = Math.min(COARSEST, Math.max(FINEST, choice.tolerance));
  let made = await attempt(tolerance);
  if (!made.ok) return made;
  let best: Result<RecordGeometry> | undefined;
  // The finest tolerance that was seen to keep the budget, and the coarsest that was seen not to.
  let [keeps, breaks] = [Infinity, 0];
  for (;;) {
    if (made.value.geometry.trianglesOut <= budget) {
      keeps = tolerance;
      best = made;
    } else breaks = tolerance;
    if (breaks >= COARSEST) return failed('envelope.budget-too-small', { triangles: budget, least: made.value.geometry.trianglesOut, tolerance: COARSEST });
    if (best && (keeps <= FINEST || keeps < NEAR_ENOUGH * breaks)) return best;
    tolerance = breaks === 0 ? Math.max(FINEST, keeps / 3) : keeps === Infinity ? Math.min(COARSEST, breaks * 3) : Math.sqrt(keeps * breaks);
    made = await attempt(roundTo(tolerance, 4));
    tolerance = roundTo(tolerance, 4);
    if (!made.ok) return made;
  }
}

/** What a record keeps of a part: how it was proven, without its mesh. */
export const partRecord = ({ bodies, mode, mesh, growth, proof, why }: GeometryPart): GeometryPartRecord => ({
  bodies: [...bodies],
  mode,
  triangles: mesh.triangles.length / 3,
  growth,
  closed: proof.closed,
  crossings: proof.crossings,
  samples: proof.samples,
  leastAt: proof.leastAt,
  greatestAt: proof.greatestAt,
  area: proof.area,
  histogram: [...proof.histogram],
  histogramTo: proof.greatest,
  why,
});

// A part as a body of a model: its mesh, by the faces of the vendor's body where it has them.
function partAsBody({ bodies, mesh, faceStart, proof }: GeometryPart, id: string): Model['bodies'][number] {
  const none = new Float64Array(0);
  const starts = faceStart ?? Uint32Array.of(0, mesh.triangles.length / 3);
  return {
    id,
    name: bodies.join(', '),
    volume: proof.volumeAfter,
    area: proof.area,
    bbox: meshBounds(mesh) ?? { min: [0, 0, 0], max: [0, 0, 0] },
    centroid: meshCentroid(mesh),
    closed: proof.closed,
    valid: true,
    faces: Array.from({ length: starts.length - 1 }, () => ({ surface: { kind: 'free' as const }, edges: [] })),
    edges: [],
    corners: none,
    mesh,
    faceStart: starts,
    edgePoints: none,
    edgeStart: Uint32Array.of(0),
  };
}

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
import { workOf } from '#core/sources';
import { makeGeometry } from './make-geometry.ts';
import type { GeometryPart, GeometryRequest, GeometryResult } from './request.ts';
import { findTolerance } from './find-tolerance.ts';

/** Geometry as a record keeps it, and its meshes as a blob: a model with a body for each part. */
export interface RecordGeometry {
  readonly geometry: MadeGeometry;
  readonly blob: Uint8Array<ArrayBuffer>;
}

/** How geometry is made; see `GeometryRequest`. */
export interface Means extends Pick<GeometryRequest, 'opened' | 'crew' | 'isTry' | 'onProgress' | 'goesOn'> {
  readonly onResult?: (result: RecordGeometry) => void;
}

/** Makes geometry for a component and gives what its record keeps of it, with the meshes as a blob: a model with a body for each part. */
export async function makeRecordGeometry(
  kernel: Kernel,
  record: ComponentRecord,
  bytes: Uint8Array,
  target: MadeGeometry['target'],
  choice: GeometryChoice,
  { onResult, ...means }: Means = {},
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
    ...means,
    ...(onResult ? { onResult: (result) => onResult(recordOf(record, target, choice, result)) } : {}),
  });
  return made.ok ? done(recordOf(record, target, choice, made.value)) : made;
}

function recordOf(record: ComponentRecord, target: MadeGeometry['target'], choice: GeometryChoice, result: GeometryResult): RecordGeometry {
  const { mesh: _, parts, profile, ...report } = result;
  const blob = encodeModel({
    format: 'step',
    unit: 'mm',
    unitScale: 1,
    chordTolerance: choice.tolerance,
    bodies: parts.map((part, i) => partAsBody(part, `p${i + 1}`)),
  });
  return {
    geometry: {
      target,
      ...choice,
      parts: parts.map(partRecord),
      inputs: geometryInputs(record, target, choice),
      blob: hashBytes(blob),
      bodies: bodiesFor(record, target),
      ...report,
      milliseconds: Math.round(report.milliseconds),
      ...(profile ? { profile } : {}),
    },
    blob,
  };
}

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
  { onProgress, ...means }: Omit<Means, 'onResult'> = {},
): Promise<Result<RecordGeometry>> {
  if (!(budget >= 12 && budget <= 1e7)) return failed('envelope.bad-budget', { triangles: budget });
  let round = 0;
  return findTolerance(choice.tolerance, budget, async (tolerance) => {
    const before = 1 - 0.75 ** round++;
    const made = await makeRecordGeometry(
      kernel,
      record,
      bytes,
      target,
      { ...choice, tolerance },
      {
        ...means,
        onProgress: (share) =>
          onProgress?.(before + share * 0.25 * (1 - before), `Within ${tolerance.toFixed(3)} mm, for ${budget.toLocaleString('en')} triangles`),
      },
    );
    return made.ok ? done({ triangles: made.value.geometry.trianglesOut, value: made.value }) : made;
  });
}

/** What a record keeps of a part: how it was proven, without its mesh. */
export const partRecord = ({ bodies, inside, mode, mesh, growth, proof, why }: GeometryPart): GeometryPartRecord => ({
  bodies: [...bodies],
  inside: [...inside],
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
function partAsBody({ bodies, inside, mesh, faceStart, proof }: GeometryPart, id: string): Model['bodies'][number] {
  const none = new Float64Array(0);
  const starts = faceStart ?? Uint32Array.of(0, mesh.triangles.length / 3);
  return {
    id,
    name: [...bodies, ...inside].join(', '),
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

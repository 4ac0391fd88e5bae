import { failed, type Result, done } from '#core/issues';
import { type Kernel, OpenModel } from '#core/kernel';
import { joinMeshes, triangleCount, meshVolume, stlSize } from '#core/mesh';
import { DEFAULT_CLOSE_BELOW } from '#core/records';
import { GeometryMaker } from './geometry-maker.ts';
import type { GeometryPart, GeometryRequest, GeometryResult, Report } from './request.ts';

/**
 * Makes simulation geometry from bodies of a vendor file. Exact: the tessellation, pushed out by its own sag. Revolved: the outer envelope of
 * all bodies about the frame's Z. Wrap: a light mesh around each body. Every part is proven against the true faces by `proveEnclosure`. The
 * tolerance is shared out to the tessellation, the simplification and the flats, so that the sum keeps it.
 */
export async function makeGeometry(kernel: Kernel, request: GeometryRequest): Promise<Result<GeometryResult>> {
  const start = performance.now();
  const { bytes, bodies, tolerance, closeBelow = DEFAULT_CLOSE_BELOW, bridge = 0, triangles } = request;
  let furthest = 0;
  // What is tried again begins anew, a bar does not go back.
  const report: Report = (share, text) => request.onProgress?.((furthest = Math.max(furthest, share)), text);
  if (!Number.isFinite(tolerance) || tolerance < 0.001 || tolerance > 5) return failed('envelope.bad-tolerance', { tolerance });
  if (!(closeBelow >= 0 && closeBelow <= 200)) return failed('envelope.bad-opening', { width: closeBelow });
  if (!(bridge >= 0 && bridge <= 200)) return failed('envelope.bad-gap', { width: bridge });
  if (triangles !== undefined && !(triangles >= 12 && triangles <= 1e7)) return failed('envelope.bad-budget', { triangles });
  if (bodies.length === 0) return failed('envelope.no-bodies');
  report(0.02, 'Reading the file');
  const opened = request.opened
    ? done(request.opened)
    : await OpenModel.open(kernel, bytes, request.file, request.work, (share, text) => report(0.05 * share, text));
  if (!opened.ok) return opened;
  try {
    const finish = (parts: readonly GeometryPart[]) => resultOf(parts, forms, bytes, performance.now() - start);
    const { onResult } = request;
    const forms: GeometryMaker = new GeometryMaker(opened.value, request, report, onResult && ((parts) => onResult(finish(parts))));
    const made = await forms.make();
    if (!made.ok) return made;
    report(0.97, 'Finishing');
    return done(finish(made.value));
  } finally {
    if (!request.opened) opened.value.close();
  }
}

function resultOf(parts: readonly GeometryPart[], forms: GeometryMaker, bytes: Uint8Array, milliseconds: number): GeometryResult {
  const mesh = joinMeshes(parts.map((p) => p.mesh));
  const area = parts.reduce((a, p) => a + p.proof.area, 0) || 1;
  return {
    parts,
    mesh,
    ...(parts.length === 1 && parts[0].profile ? { profile: parts[0].profile } : {}),
    trianglesIn: parts.reduce((n, p) => n + p.trianglesIn, 0),
    trianglesOut: triangleCount(mesh),
    bytesIn: bytes.length,
    bytesOut: stlSize(triangleCount(mesh)),
    volumeIn: parts.reduce((v, p) => v + p.proof.volumeBefore, 0),
    volumeOut: meshVolume(mesh),
    growth: {
      min: Math.min(...parts.map((p) => p.growth.min)),
      mean: parts.reduce((s, p) => s + (p.growth.mean * p.proof.area) / area, 0),
      max: Math.max(...parts.map((p) => p.growth.max)),
    },
    closed: parts.every((p) => p.proof.closed),
    checkCost: forms.checkCost(parts),
    milliseconds,
  };
}

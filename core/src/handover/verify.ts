import { checkAssembly, gaugeLengthOf, placePieces, placeTips } from '#core/assembly';
import { done, type Result } from '#core/issues';
import { type Kernel, readModelFile, readStep, sampleModelFile } from '#core/kernel';
import { compose, ENCLOSURE_SLACK, frameFromWorld, move, SAME_POINT, type Vec3, worldFromFrame } from '#core/math';
import { isClosedMesh, joinMeshes, meshBounds, meshVolume, type Model, outsideFinder, readGlb, readStl, type TriMesh, validateMesh, weld } from '#core/mesh';
import { profileDepthFinder } from '#core/outline';
import { bodiesFor, type Check, mountFrameOf, type PackedPart } from '#core/records';
import { type OpenedPackage, openPackage } from './pack.ts';
import { workOf } from '#core/sources';

/**
 * The checks of a package, recomputed from its own files: hashes and schema (or it does not open), numbers against the
 * records, meshes closed and the same in every format, revolved profiles around the vendor's true faces, and the checks of
 * the assembly. STL holds single precision, so meshes are compared within 0.001 mm.
 */
export async function verifyPackage(kernel: Kernel, bytes: Uint8Array, file: string): Promise<Result<{ name: string; checks: Check[] }>> {
  const opened = openPackage(bytes, file);
  if (!opened.ok) return opened;
  const { manifest, assembly, components } = opened.value;
  const checks: Check[] = [{ code: 'files', state: 'pass', message: `${manifest.files.length} files, each as it was packed` }];
  checks.push(...verifyNumbers(opened.value));
  for (const piece of manifest.pieces)
    for (const part of piece.parts) checks.push(...(await verifyPart(kernel, opened.value, piece.componentId, piece.name, part)));
  const models: Record<string, Model | undefined> = {};
  for (const [id, record] of Object.entries(components)) {
    const read = await readModelFile(kernel, opened.value.sources[id], record.source.fileName, { work: workOf(record) });
    if (!read.ok) return read;
    models[id] = read.value.model;
  }
  return done({ name: manifest.name, checks: [...checks, ...checkAssembly(assembly, components, models)] });
}

function verifyNumbers({ manifest, assembly, components }: OpenedPackage): Check[] {
  const tips = placeTips(assembly, components, placePieces(assembly, components));
  const gauge = gaugeLengthOf(assembly, tips) ?? null;
  const off = (a: number | null, b: number | null) => (a === null || b === null ? (a === b ? 0 : Infinity) : Math.abs(a - b));
  const worst = Math.max(
    off(gauge, manifest.gaugeLength),
    tips.length === manifest.tips.length ? 0 : Infinity,
    ...tips.map((t, i) => Math.max(off(t.L, manifest.tips[i]?.L ?? null), off(t.Q, manifest.tips[i]?.Q ?? null), off(t.Y, manifest.tips[i]?.Y ?? null))),
  );
  const message = worst <= SAME_POINT ? 'Gauge length and tips follow from the frames' : `Gauge length or tips differ from the frames by ${worst} mm.`;
  return [{ code: 'numbers', state: worst <= SAME_POINT ? 'pass' : 'fail', message, ...(Number.isFinite(worst) ? { value: worst } : {}), limit: SAME_POINT }];
}

async function verifyPart(kernel: Kernel, opened: OpenedPackage, componentId: string, name: string, part: PackedPart): Promise<Check[]> {
  const what = `${name}, ${part.target}`;
  const stl = readStl(opened.files[part.files.stl], part.files.stl);
  const glb = await readGlb(opened.files[part.files.glb], part.files.glb);
  const step = part.files.step ? readStep(kernel, opened.files[part.files.step], part.files.step, { exactProperties: true }) : undefined;
  if (!stl.ok || !glb.ok || step?.ok === false) return [{ code: 'readable', state: 'fail', message: `${what}: one of its files cannot be read.` }];
  // A GLB has a mesh for each colour; together they are the part.
  const meshes: [string, TriMesh][] = [
    ['STL', weld(stl.value)],
    ['GLB', weld(joinMeshes(glb.value.map((m) => m.mesh)))],
  ];
  const checks: Check[] = meshes.map(([format, mesh]) => {
    const faults = validateMesh(mesh);
    const good = isClosedMesh(faults) && !faults.insideOut;
    return {
      code: 'closed',
      state: good ? 'pass' : 'fail',
      message: good ? `${what}: ${format} closed` : `${what}: ${format} is not closed (${faults.openEdges} open, ${faults.badEdges} bad edges).`,
    };
  });
  const apart = Math.max(...meshes.map(([, mesh]) => boundsApart(mesh, meshes[0][1])));
  const volumes = meshes.map(([, mesh]) => meshVolume(mesh));
  const same = apart <= 1e-3 && volumes.every((v) => Math.abs(v - part.volume) <= 1e-4 * Math.abs(part.volume));
  checks.push({
    code: 'same-everywhere',
    state: same ? 'pass' : 'fail',
    message: same ? `${what}: STL, GLB and manifest agree` : `${what}: its files are not the same geometry.`,
    value: apart,
    limit: 1e-3,
  });
  if (step) {
    const volume = step.value.model.bodies.reduce((v, b) => v + b.volume, 0);
    checks.push(verifyVolume(what, part, volume));
  }
  const growth = await leastGrowth(kernel, opened, componentId, part, meshes[0][1]);
  const slack = part.profile ? ENCLOSURE_SLACK : SINGLE_PRECISION;
  checks.push({
    code: 'enclosure',
    state: growth >= -slack ? 'pass' : 'fail',
    message: growth >= -slack ? `${what}: never inside the vendor's geometry` : `${what}: cuts ${(-growth).toFixed(4)} mm into the tool.`,
    value: growth,
    limit: -slack,
  });
  return checks;
}

function boundsApart(a: TriMesh, b: TriMesh): number {
  const [p, q] = [meshBounds(a), meshBounds(b)];
  if (!p || !q) return Infinity;
  return Math.max(...[0, 1, 2].flatMap((i) => [Math.abs(p.min[i] - q.min[i]), Math.abs(p.max[i] - q.max[i])]));
}

// The light mesh may only be larger than the B-rep beside it, and not by much.
function verifyVolume(what: string, part: PackedPart, stepVolume: number): Check {
  const ratio = part.volume / stepVolume;
  const good = ratio > 1 - 1e-6 && ratio < 1.2;
  return {
    code: 'volume',
    state: good ? 'pass' : 'fail',
    message: good ? `${what}: mesh and STEP have the same volume within ${((ratio - 1) * 100).toFixed(2)} %` : `${what}: mesh and STEP differ in volume.`,
    value: ratio,
  };
}

// mm: what single precision of the STL leaves of a coordinate of 500 mm.
const SINGLE_PRECISION = 5e-5;
const POINTS_A_PART = 1500;

// Points of the vendor's true faces, sampled anew, against the packed profile or else the packed mesh. A spread of points is
// enough to notice a changed profile, mesh or frame; the builder measured all of them.
async function leastGrowth(kernel: Kernel, opened: OpenedPackage, componentId: string, part: PackedPart, stl: TriMesh): Promise<number> {
  const record = opened.components[componentId];
  const ids = bodiesFor(record, part.target);
  const sampled = await sampleModelFile(kernel, opened.sources[componentId], record.source.fileName, { chordTolerance: 0.05, ids, work: workOf(record) });
  const piece = opened.manifest.pieces.find((p) => p.componentId === componentId && p.parts.some((q) => q.files.stl === part.files.stl));
  if (!sampled.ok || !piece) return -Infinity;
  const mountFromFile = frameFromWorld(mountFrameOf(record));
  const gaugeFromFile = compose(worldFromFrame(piece.mountInGauge), mountFromFile);
  const outside = outsideFinder(stl);
  const depth = part.profile && profileDepthFinder(part.profile);
  let least = Infinity;
  const count = sampled.value.reduce((n, b) => n + b.skin.length / 3, 0);
  const stride = 3 * Math.max(1, Math.floor(count / POINTS_A_PART));
  for (const body of sampled.value) {
    for (let i = 0; i < body.skin.length; i += stride) {
      const p: Vec3 = [body.skin[i], body.skin[i + 1], body.skin[i + 2]];
      if (depth) {
        const [x, y, z] = move(mountFromFile, p);
        least = Math.min(least, depth(z, Math.hypot(x, y)));
      } else least = Math.min(least, -outside(move(gaugeFromFile, p)));
    }
  }
  return least > -ENCLOSURE_SLACK ? Math.max(0, least) : least;
}

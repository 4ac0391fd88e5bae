import { closeOpenings, computeExactGeometry, type ProofInput } from '#core/envelope';
import { type Kernel, type OpenModel, readSolids, type SampledBody } from '#core/kernel';
import { chordFor, type Crew, proveWith } from '#core/making';
import { compose, ENCLOSURE_SLACK, frameFromWorld, invert, type Motion, move, type Vec3 } from '#core/math';
import {
  isClosedMesh,
  joinMeshes,
  meshDifference,
  meshVolume,
  type Model,
  moveMesh,
  placeOfFault,
  precisionOf,
  readGlb,
  readStl,
  type TriMesh,
  triangleCount,
  validateMesh,
  weld,
} from '#core/mesh';
import { profileDepthFinder } from '#core/outline';
import { bodiesFor, type Check, chosenGeometry, type ComponentRecord, type GeometryPartRecord, mountFrameOf, type PackedPart } from '#core/records';
import type { OpenedPackage } from '../open-package.ts';
import { sameBodiesFault, turnedStepFault } from './step-file.ts';
import { turnedFault } from './turned-mesh.ts';

/** A part of a package with the vendor's file that it was made from, open, and where its piece stands. */
export interface PartToVerify {
  readonly kernel: Kernel;
  readonly opened: OpenedPackage;
  readonly source: OpenModel;
  readonly model: Model;
  readonly record: ComponentRecord;
  /** Piece and target, for messages. */
  readonly what: string;
  readonly part: PackedPart;
  readonly gaugeFromFile: Motion;
  readonly crew: Crew;
}

/** A mesh of the part, in the frame of the vendor's file, with what the package says of it. */
interface Piece {
  readonly mesh: TriMesh;
  readonly mode: GeometryPartRecord['mode'];
  readonly bodies: readonly string[];
  readonly inside: readonly string[];
}

// Of a STEP file of true faces or of a turned profile: the picture's chords do.
const STEP_CHORD = 0.05;

const sayPlace = (p: Vec3): string => `[${p.map((v) => (v + 0).toFixed(3)).join(', ')}]`;

/** What can be said of its files, and the proof that is yet to be made. Places are in the gauge frame. */
export async function verifyPart(given: PartToVerify): Promise<{ files: Check[]; prove: () => Promise<Check[]> }> {
  const { opened, part, what, gaugeFromFile } = given;
  const stl = readStl(opened.files[part.files.stl], part.files.stl);
  const glb = await readGlb(opened.files[part.files.glb], part.files.glb);
  const unreadable = !stl.ok ? part.files.stl : !glb.ok ? part.files.glb : undefined;
  if (!stl.ok || !glb.ok)
    return { files: [{ code: 'readable', state: 'fail', message: `${what}: ${unreadable} cannot be read.` }], prove: () => Promise.resolve([]) };
  // A GLB has a mesh for each colour; together they are the part.
  const [soup, drawn] = [stl.value, joinMeshes(glb.value.map((m) => m.mesh))];
  const precision = precisionOf(soup);
  const pieces = piecesOf(given, moveMesh(invert(gaugeFromFile), soup));
  const files = [
    checkClosed(given, 'STL', soup),
    checkClosed(given, 'GLB', drawn),
    checkSame(given, soup, drawn),
    ...checkTurned(given, pieces, precision),
    ...checkStep(given),
  ];
  return { files, prove: () => checkEnclosure(given, pieces, precision) };
}

function checkClosed({ what }: PartToVerify, format: string, soup: TriMesh): Check {
  const mesh = weld(soup);
  const faults = validateMesh(mesh);
  const closed = isClosedMesh(faults) && !faults.insideOut;
  if (closed) return { code: 'closed', state: 'pass', message: `${what}: ${format} closed` };
  const why =
    faults.insideOut && isClosedMesh(faults)
      ? 'is inside out'
      : `is not closed near [${placeOfFault(mesh)}] (${faults.openEdges} open, ${faults.badEdges} bad edges)`;
  return { code: 'closed', state: 'fail', message: `${what}: ${format} ${why}.` };
}

// STL and GLB hold the same triangles, as many and of as much volume as the manifest says.
function checkSame({ what, part }: PartToVerify, stl: TriMesh, glb: TriMesh): Check {
  const fail = (text: string, numbers: Partial<Check> = {}): Check => ({ code: 'same-everywhere', state: 'fail', message: `${what}: ${text}.`, ...numbers });
  const difference = meshDifference(stl, glb);
  if (difference) {
    const { kind, at, by, onlyFirst, onlySecond } = difference;
    const how = {
      'corner moved': `a corner is ${by?.toFixed(4)} mm apart`,
      'turned over': 'a triangle is turned over',
      missing: `${onlyFirst} triangles are only in the STL, ${onlySecond} only in the GLB`,
    }[kind];
    return fail(`STL and GLB are not the same at ${sayPlace(at)}: ${how}`, { ...(by !== undefined ? { value: by } : {}), limit: 0 });
  }
  const count = triangleCount(stl);
  if (count !== part.triangles) return fail(`it has ${count} triangles, the manifest says ${part.triangles}`, { value: count, limit: part.triangles });
  const volume = meshVolume(stl);
  if (Math.abs(volume - part.volume) > 1e-4 * Math.abs(part.volume))
    return fail(`it has ${volume.toFixed(1)} mm3, the manifest says ${part.volume.toFixed(1)}`, { value: volume, limit: part.volume });
  return { code: 'same-everywhere', state: 'pass', message: `${what}: STL, GLB and manifest agree, corner by corner`, value: 0, limit: 0 };
}

// The meshes of a part in their order, as its proof lists them; where it does not, or not these, one of all.
function piecesOf({ part, record }: PartToVerify, mesh: TriMesh): Piece[] {
  const { proof = [] } = part;
  const all = bodiesFor(record, part.target);
  if (proof.length === 0 || proof.reduce((n, p) => n + p.triangles, 0) !== triangleCount(mesh))
    return [{ mesh, mode: part.profile ? 'revolved' : part.mode === 'auto' ? 'wrap' : part.mode, bodies: all, inside: [] }];
  let from = 0;
  return proof.map(({ triangles, mode, bodies, inside }) => {
    const positions = mesh.positions.slice(9 * from, 9 * (from + triangles));
    from += triangles;
    return { mesh: { positions, triangles: Uint32Array.from({ length: 3 * triangles }, (_, i) => i) }, mode, bodies, inside };
  });
}

function checkTurned({ what, part, record, gaugeFromFile }: PartToVerify, pieces: readonly Piece[], precision: number): Check[] {
  const frameFromFile = frameFromWorld(mountFrameOf(record));
  return pieces
    .filter((p) => p.mode === 'revolved')
    .map(({ mesh }): Check => {
      const arcs = part.profile?.flat().some((p) => p.kind === 'arc') ?? false;
      const fault = turnedFault(moveMesh(frameFromFile, mesh), part.profile, arcs ? part.tolerance : 0, precision);
      if (!fault) return { code: 'turned', state: 'pass', message: `${what}: its mesh is its profile, turned` };
      const at = move(compose(gaugeFromFile, invert(frameFromFile)), fault.at);
      return { code: 'turned', state: 'fail', message: `${what}: not its profile turned at ${sayPlace(at)}: ${fault.text}.` };
    });
}

function checkStep({ kernel, opened, what, part, record, model, gaugeFromFile }: PartToVerify): Check[] {
  const path = part.files.step;
  if (!path) return [];
  const step = readSolids(kernel, opened.files[path], path, { chordTolerance: part.profile ? STEP_CHORD : model.chordTolerance });
  if (!step.ok) return [{ code: 'step', state: 'fail', message: `${what}: ${path} cannot be read.` }];
  const ids = bodiesFor(record, part.target);
  const fault = part.profile
    ? turnedStepFault(step.value.model, compose(frameFromWorld(mountFrameOf(record)), invert(gaugeFromFile)), part.profile)
    : sameBodiesFault(
        step.value.model,
        ids.map((id) => model.bodies.find((b) => b.id === id) as Model['bodies'][number]),
        gaugeFromFile,
      );
  if (fault) return [{ code: 'step', state: 'fail', message: `${what}: STEP differs at ${sayPlace(fault.at)}: ${fault.text}.` }];
  return [{ code: 'step', state: 'pass', message: `${what}: STEP is ${part.profile ? 'the profile, turned' : "the vendor's bodies in their place"}` }];
}

// The full proof of each mesh against the vendor's true faces, sampled anew.
async function checkEnclosure(given: PartToVerify, pieces: readonly Piece[], precision: number): Promise<Check[]> {
  const { what, part, gaugeFromFile } = given;
  const welded = pieces.map(({ mesh }) => weld(mesh, 1e-7));
  const solid = welded.map((mesh) => isClosedMesh(validateMesh(mesh)));
  const inputs = pieces.map((piece, i) =>
    inputOf(
      given,
      piece,
      welded.filter((_, k) => k !== i && solid[k]),
    ),
  );
  if (!inputs.every((input) => input !== undefined))
    return [{ code: 'enclosure', state: 'fail', message: `${what}: the vendor's bodies that it stands for cannot be sampled.` }];
  const profile = checkProfile(
    given,
    inputs.flatMap(({ bodies, inside = [] }) => [...bodies, ...inside]),
  );
  const proofs = await Promise.all(welded.map((mesh, i) => proveWith(given.crew, inputs[i], mesh)));
  const lowest = proofs.reduce((a, b) => (b.least < a.least ? b : a));
  const highest = proofs.reduce((a, b) => (b.greatest > a.greatest ? b : a));
  const samples = proofs.reduce((n, p) => n + p.samples, 0).toLocaleString('en');
  const inGauge = (p: Vec3) => sayPlace(move(gaugeFromFile, p));
  const isAround = lowest.least >= -precision;
  const enclosure: Check = {
    code: 'enclosure',
    state: isAround ? 'pass' : 'fail',
    message: isAround
      ? `${what}: never inside the vendor's geometry, at ${samples} places`
      : `${what}: cuts ${(-lowest.least).toFixed(4)} mm into the tool at ${inGauge(lowest.leastAt)}.`,
    value: isAround ? Math.max(0, lowest.least) : lowest.least,
    limit: -precision,
  };
  // Chords of what turns hide a little of it.
  const limit = Math.max(part.tolerance, part.growth.max) + precision + chordFor('revolved', part.tolerance);
  const isNear = highest.greatest <= limit;
  const growth: Check = {
    code: 'growth',
    state: isNear ? 'pass' : 'fail',
    message: isNear
      ? `${what}: stands out by no more than the package says`
      : `${what}: stands out by ${highest.greatest.toFixed(4)} mm at ${inGauge(highest.greatestAt)}, the package says ${part.growth.max.toFixed(4)}.`,
    value: highest.greatest,
    limit,
  };
  return [...profile, enclosure, growth];
}

/** What a mesh is held against; `around` are the other meshes of its part. Undefined where the vendor's bodies cannot be sampled. */
function inputOf({ source, record, part }: PartToVerify, { mode, bodies, inside }: Piece, around: readonly TriMesh[]): ProofInput | undefined {
  const sample = (ids: readonly string[]) => source.sample({ chordTolerance: chordFor(mode, part.tolerance), ids });
  const [own, hidden] = [sample(bodies), sample(inside)];
  if (!own.ok || !hidden.ok) return undefined;
  const { closeBelow, bridge } = chosenGeometry(record, part.target);
  const { origin, z } = mountFrameOf(record);
  const input = { bodies: own.value, inside: hidden.value, others: around };
  if (mode === 'revolved') return { ...input, spin: { axis: { origin, direction: z }, bridge } };
  if (mode === 'exact' || own.value.length !== 1) return input;
  // Of a wrap growth counts from the body with its openings closed.
  const [body] = own.value;
  const exact = computeExactGeometry(body);
  return { ...input, closedMesh: closeOpenings(exact.mesh, exact.faceOf, body, closeBelow).mesh, closedSlack: exact.growth.max };
}

// The packed profile keeps double precision: every place of the vendor's faces that was sampled lies in it.
function checkProfile({ what, part, record, gaugeFromFile }: PartToVerify, bodies: readonly SampledBody[]): Check[] {
  if (!part.profile) return [];
  const depth = profileDepthFinder(part.profile);
  const mountFromFile = frameFromWorld(mountFrameOf(record));
  let least = Infinity;
  let leastAt: Vec3 = [0, 0, 0];
  for (const { skin } of bodies)
    for (let i = 0; i < skin.length; i += 3) {
      const [x, y, z] = move(mountFromFile, [skin[i], skin[i + 1], skin[i + 2]]);
      const in_ = depth(z, Math.hypot(x, y));
      if (in_ < least) [least, leastAt] = [in_, [skin[i], skin[i + 1], skin[i + 2]]];
    }
  const isAround = least >= -ENCLOSURE_SLACK;
  const at = sayPlace(move(gaugeFromFile, leastAt));
  return [
    {
      code: 'profile',
      state: isAround ? 'pass' : 'fail',
      message: isAround
        ? `${what}: its profile is around every sampled place of the vendor's faces`
        : `${what}: its profile cuts ${(-least).toFixed(4)} mm into the tool at ${at}.`,
      value: isAround ? Math.max(0, least) : least,
      limit: -ENCLOSURE_SLACK,
    },
  ];
}

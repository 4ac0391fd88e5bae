// Makes the wild corpus: npm run corpus:wild [NAME] [--seed N --out FOLDER]. Seeded; the files are committed with their truth. Another seed, written elsewhere,
// gives models that nobody has looked at: npm run bench:reading FOLDER.
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import init from 'replicad-opencascadejs';
import { measureShapeVolumeProperties, setOC, type Shape3D } from 'replicad';
import { compose, IDENTITY, invert, type Motion, move, rotationAbout, roundTo } from '#core/math';
import { joinMeshes, type TriMesh, writeStl } from '#core/mesh';
import { asSplines } from '../as-splines.ts';
import { FILE_AXES, motionOf, type Pose, placeIn, posed, tidy } from '../pose.ts';
import { Random } from '../random.ts';
import { assembledText, type Part } from './assembled.ts';
import { block } from './blocks.ts';
import { adapter, colletOrSleeve, holder } from './holders.ts';
import { indexable } from './indexable.ts';
import { fineCutter } from './fine-cutters.ts';
import { loneInsert } from './lone-inserts.ts';
import { solidCutter } from './solid-cutters.ts';
import { boringBar, groovingTool, turningHead, turningTool } from './turning.ts';
import type { WildBody, WildKind, WildModel, WildTruth } from './wild-model.ts';
import { namesFor, rewritten, stepText, WRITTEN, type Written } from './written.ts';

interface Maker {
  readonly kind: WildKind;
  readonly make: (r: Random) => WildModel;
  readonly count: number;
  /** Where the seeds go on from, other than the last one's: for a model that another seed brought up. */
  readonly seed?: number;
  /** Something was mended by it: it is not held back, whatever its number. */
  readonly isKnown?: boolean;
}
const MAKERS: readonly Maker[] = [
  { kind: 'turning', make: turningTool, count: 12 },
  { kind: 'boring', make: boringBar, count: 9 },
  { kind: 'grooving', make: groovingTool, count: 6 },
  { kind: 'head', make: turningHead, count: 6 },
  { kind: 'indexable', make: indexable, count: 6 },
  { kind: 'solid cutter', make: solidCutter, count: 12 },
  { kind: 'holder', make: holder, count: 9 },
  { kind: 'adapter', make: adapter, count: 9 },
  { kind: 'collet', make: colletOrSleeve, count: 6 },
  { kind: 'block', make: block, count: 12 },
  { kind: 'fine cutter', make: fineCutter, count: 9 },
  { kind: 'indexable', make: indexable, count: 6 },
  // Flutes cut into a cylinder that goes on as the shank, as a fine mesh.
  { kind: 'solid cutter', make: solidCutter, count: 2, seed: 95611 },
  // Where a face is gone, an edge shorter than faces are sewn within stays.
  { kind: 'adapter', make: adapter, count: 2, seed: 95767 },
  { kind: 'insert', make: loneInsert, count: 12, seed: 41000 },
  // A round insert whose rim is two arcs, one of more than half a turn; a full radius in splines; and a mesh whose sides are told from two strips each.
  { kind: 'turning', make: turningTool, count: 1, seed: 4531 },
  { kind: 'insert', make: loneInsert, count: 1, seed: 5805 },
  { kind: 'insert', make: loneInsert, count: 1, seed: 10518 },
  // A full radius whose arcs are parted by strips of the mesh; a plate in patches that part its noses; a small triangle with a large countersink; and two that are held back.
  { kind: 'insert', make: loneInsert, count: 1, seed: 90001 },
  { kind: 'insert', make: loneInsert, count: 1, seed: 6128 },
  { kind: 'insert', make: loneInsert, count: 1, seed: 6167 },
  { kind: 'insert', make: loneInsert, count: 1, seed: 90105 },
  { kind: 'insert', make: loneInsert, count: 1, seed: 6089 },
  // A chip breaker that breaks the nose's edge up, as a mesh: pieces of it lie on circles beside its own.
  { kind: 'boring', make: boringBar, count: 1, seed: 31506 },
  // A ball end in patches: where a flute runs out, a face's border follows the ball like a nose.
  { kind: 'solid cutter', make: solidCutter, count: 1, seed: 510, isKnown: true },
];

const words = process.argv.slice(2);
const valueOf = (name: string) => (words.includes(name) ? words[words.indexOf(name) + 1] : undefined);
const home = valueOf('--out') ?? import.meta.dirname;
const folder = join(home, 'models');
function meshOf(shape: Shape3D, chord: number, angle: number): TriMesh {
  const m = shape.mesh({ tolerance: chord, angularTolerance: angle });
  return { positions: Float64Array.from(m.vertices), triangles: Uint32Array.from(m.triangles) };
}

// Bodies that are alike are one part with several uses.
function partsOf(bodies: readonly WildBody[], written: readonly { shape: Shape3D; name: string }[], fileFromMount: Motion): Part[] {
  const first = new Map<string, { part: { name: string; shape: Shape3D; uses: Motion[] }; turned: number }>();
  const out: Part[] = [];
  bodies.forEach(({ like }, i) => {
    const known = like && first.get(like.of);
    if (known) {
      const turned = rotationAbout([0, 0, 0], [0, 0, 1], ((like.turned - known.turned) * Math.PI) / 180);
      known.part.uses.push(compose(compose(fileFromMount, turned), invert(fileFromMount)));
      return;
    }
    const part = { ...written[i], uses: [IDENTITY] };
    if (like) first.set(like.of, { part, turned: like.turned });
    out.push(part);
  });
  return out;
}

async function main() {
  setOC(await init({ print: () => undefined, printErr: () => undefined }));
  const only = words[0]?.startsWith('--') ? undefined : words[0];
  if (!only) rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const truths: WildTruth[] = [];
  let seed = Number(valueOf('--seed') ?? 7000);
  const made = new Map<string, number>();
  for (const { kind, make, count, seed: from, isKnown } of MAKERS) {
    // Another seed asks for other models of all kinds.
    if (from !== undefined && valueOf('--seed') === undefined) seed = from;
    for (let k = 0; k < count; k++) {
      const i = made.get(kind) ?? 0;
      made.set(kind, i + 1);
      seed += 13;
      const name = `${kind.replaceAll(' ', '-')}-${i + 1}`;
      if (only && !name.startsWith(only)) continue;
      const started = performance.now();
      const r = new Random(seed);
      const model = make(r);
      const isMesh = i % 2 === 1;
      const inch = !isMesh && r.chance(0.3);
      let how: Written = isMesh ? 'plain' : r.pick(WRITTEN);
      const steps = [0, 1].map(() => ({ deg: r.chance(0.5) ? 90 * r.whole(0, 3) : r.round(-180, 180), axis: r.pick(FILE_AXES) }));
      const by: [number, number, number] = r.chance(0.4) ? [0, 0, 0] : [r.round(-300, 300), r.round(-300, 300), r.round(-300, 300)];
      const pose: Pose = { steps, by };
      const fileFromMount = motionOf(pose);
      const order = r.chance(0.5) ? model.bodies : [...model.bodies].reverse();
      const names = namesFor(r, order.length);
      const bodies = order.map((b, k) => {
        const mass = measureShapeVolumeProperties(b.shape);
        return { ...b, name: b.name ?? names[k], volume: mass.volume, centre: mass.centerOfMass };
      });
      // Drawn apart, so that other models stay as they are.
      const more = new Random(seed * 31 + 5);
      if (!isMesh && how === 'plain' && more.chance(0.7)) how = 'slivers';
      const isAssembly = bodies.length > 1 && !isMesh && how !== 'loose faces' && how !== 'a face gone' && more.chance(bodies.some((b) => b.like) ? 0.9 : 0.5);
      let written: { shape: Shape3D; name: string }[];
      try {
        written = bodies.map((b) => ({
          name: b.name,
          shape: posed(b.role === 'tool body' || how !== 'a face gone' ? rewritten(b.shape.clone(), how, r) : b.shape.clone(), pose),
        }));
      } catch (e) {
        console.log(`   ${name}: ${how} not possible (${String(e).slice(0, 60)})`);
        how = 'plain';
        written = bodies.map((b) => ({ name: b.name, shape: posed(b.shape.clone(), pose) }));
      }
      const file = `${name}.${isMesh ? 'stl' : 'step'}`;
      let bytes: Uint8Array;
      if (isMesh) {
        const [chord, angle] = r.pick([
          [0.06, 0.35],
          [0.02, 0.2],
          [0.008, 0.15],
        ]);
        bytes = writeStl(joinMeshes(written.map((s) => meshOf(s.shape, chord, angle))));
      } else if (isAssembly) {
        const parts = partsOf(bodies, written, fileFromMount);
        bytes = new TextEncoder().encode(
          await assembledText(parts, more, how === 'splines' || how === 'splines and patches' ? (t) => asSplines(t).text : (t) => t),
        );
      } else bytes = new TextEncoder().encode(await stepText(written, how, inch));
      writeFileSync(join(folder, file), bytes);
      truths.push({
        file,
        seed,
        kind,
        readAs: model.readAs,
        format: isMesh ? 'stl' : 'step',
        unit: inch && !isAssembly ? 'inch' : 'mm',
        heldBack: i % 3 === 2 && !(isKnown && valueOf('--seed') === undefined),
        bodies: bodies.map((b) => ({ role: b.role, volume: roundTo(b.volume, 4), centroid: tidy(move(fileFromMount, b.centre)) })),
        mount: placeIn(fileFromMount, model.mount),
        seats: model.seats.map((p) => placeIn(fileFromMount, p)),
        tips: model.tips.map((t) => ({ ...t, noseCentre: tidy(move(fileFromMount, t.noseCentre)) })),
        ...(model.oneOf ? { oneOf: true } : {}),
        ...(model.otherMounts ? { otherMounts: model.otherMounts.map((p) => placeIn(fileFromMount, p)) } : {}),
        ...(model.cutsFrom ? { cutsFrom: model.cutsFrom } : {}),
        note: model.note,
        written: isAssembly ? `${how}, assembly` : how,
      });
      console.log(
        `${file}: ${model.note} [${how}${isAssembly ? ', assembly' : ''}${inch ? ', inch' : ''}]: ${Math.round(bytes.length / 1000)} kB, ${Math.round(performance.now() - started)} ms`,
      );
    }
  }
  if (!only || home !== import.meta.dirname) writeFileSync(join(home, 'truth.json'), `${JSON.stringify(truths, null, 1)}\n`);
}

await main();

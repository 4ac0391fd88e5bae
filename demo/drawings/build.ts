// Makes the corpus of drawings: npm run drawings. Seeded, so that it comes out the same each time; the files are committed with truth.json. Every third is held back.
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Random } from '../corpus/random.ts';
import { drawDxf, type DrawingTruth, drawSvg } from './draw.ts';
import { ballNose, countersink, drill, flatInsert, formCutter, sleeve } from './drawn-shapes.ts';

const folder = join(import.meta.dirname, 'files');
rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });
const MAKERS = [formCutter, drill, formCutter, ballNose, formCutter, countersink, flatInsert];
const truths: (DrawingTruth & { heldBack: boolean })[] = [];
// From the sixtieth on they are drawn with less care.
for (let i = 0; i < 120; i++) {
  const r = new Random(7000 + i);
  const isSvg = i % 4 === 3;
  const inch = !isSvg && r.chance(0.3);
  const isWild = i >= 60 && !isSvg;
  const shape = isWild && i % 5 === 0 ? sleeve(r) : MAKERS[i % MAKERS.length](r, inch);
  const file = `${shape.kind.replace(' ', '-')}-${i + 1}.${isSvg ? 'svg' : 'dxf'}`;
  const { text, truth } = isSvg ? drawSvg(shape, file, r) : drawDxf(shape, file, inch && shape.kind !== 'sleeve', r, isWild);
  writeFileSync(join(folder, file), text);
  truths.push({ ...truth, heldBack: i % 3 === 1 });
}
writeFileSync(join(import.meta.dirname, 'truth.json'), `${JSON.stringify(truths, null, 1)}\n`);
console.log(`${truths.length} drawings`);

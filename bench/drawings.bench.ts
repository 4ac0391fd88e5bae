// How much of the corpus of drawings is read right: npm run bench:drawings [all|held-back] [NAME...]. Without a word it leaves the held-back third alone.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readDrawing, type ReadOutline, readDxf, readSvg } from '#core/drawing';
import { say } from '#core/issues';
import { distanceFromSegment, type FlatPoint, flatDistance, flattenPath, mapPiece, type PathPiece } from '#core/outline';
import type { DrawingTruth } from '../demo/drawings/draw.ts';

const folder = join(import.meta.dirname, '../demo/drawings');
// mm.
const RIGHT = 0.01;

const truthPath = ({ start, sides }: DrawingTruth): PathPiece[] =>
  sides.map((s, i) => {
    const from = i === 0 ? start : sides[i - 1].to;
    return s.centre ? { kind: 'arc', from, to: s.to, centre: s.centre, ccw: s.ccw ?? false } : { kind: 'line', from, to: s.to };
  });

const pointsAlong = (path: readonly PathPiece[]): FlatPoint[] => {
  const flat = [...path.flatMap((p) => flattenPath([p], 1e-4, false)), path[path.length - 1].to];
  return flat.flatMap((p, i): FlatPoint[] => {
    const q = flat[i + 1];
    if (!q) return [p];
    const n = Math.max(1, Math.ceil(flatDistance(p, q) / 0.5));
    return Array.from({ length: n }, (_, k): FlatPoint => [p[0] + (k / n) * (q[0] - p[0]), p[1] + (k / n) * (q[1] - p[1])]);
  });
};

const fromPath = (p: FlatPoint, flat: readonly FlatPoint[]): number =>
  flat.slice(1).reduce((least, q, i) => Math.min(least, distanceFromSegment(flat[i], q, p)), Infinity);

/** How far two ways are from each other at most, mm. */
function apart(a: readonly PathPiece[], b: readonly PathPiece[]): number {
  const [p, q] = [pointsAlong(a), pointsAlong(b)];
  return Math.max(...p.map((x) => fromPath(x, q)), ...q.map((x) => fromPath(x, p)));
}

// A flat outline stands where it was drawn: it is moved onto the true one by the corners of their boxes, in the unit that it was drawn in.
function flatOff({ drawn = [], unitScale }: DrawingTruth, read: ReadOutline): number {
  const truth = drawn.map(
    (s): PathPiece => (s.centre ? { kind: 'arc', from: s.from, to: s.to, centre: s.centre, ccw: s.ccw ?? false } : { kind: 'line', ...s }),
  );
  const scaled = read.profile[0].map((p) => mapPiece(p, ([x, y]) => [(x * unitScale) / read.unitScale, (y * unitScale) / read.unitScale]));
  const lowOf = (path: readonly PathPiece[]): FlatPoint => {
    const points = pointsAlong(path);
    return [Math.min(...points.map((p) => p[0])), Math.min(...points.map((p) => p[1]))];
  };
  const [a, b] = [lowOf(truth), lowOf(scaled)];
  return apart(
    truth,
    scaled.map((p) => mapPiece(p, ([x, y]) => [x + a[0] - b[0], y + a[1] - b[1]])),
  );
}

const answers: { readonly what: string; readonly right: boolean }[] = [];
const [which = 'open', ...names] = process.argv.slice(2);
const truths = (JSON.parse(readFileSync(join(folder, 'truth.json'), 'utf8')) as (DrawingTruth & { heldBack: boolean })[]).filter(
  (t) => (which === 'all' || t.heldBack === (which === 'held-back')) && (names.length === 0 || names.some((n) => t.file.startsWith(n))),
);
for (const truth of truths) {
  const bytes = new Uint8Array(readFileSync(join(folder, 'files', truth.file)));
  const drawing = truth.file.endsWith('.svg') ? readSvg(bytes, truth.file) : readDxf(bytes, truth.file);
  const read = drawing.ok ? readDrawing(drawing.value, truth.file) : drawing;
  const wrong: string[] = [];
  const ask = (what: string, right: boolean, text: string) => {
    answers.push({ what, right });
    if (!right) wrong.push(`${what}: ${text}`);
  };
  if (!read.ok) {
    for (const what of ['form', 'outline', 'unit', ...(truth.form === 'revolved' ? ['tip', 'diameter'] : [])])
      ask(what, false, what === 'form' ? read.issues.map(say).join(' ') : 'none');
  } else {
    const o = read.value;
    const path = truthPath(truth);
    ask('form', o.form === truth.form, o.form);
    const off = o.form !== truth.form ? Infinity : truth.form === 'flat' ? flatOff(truth, o) : Math.max(...o.profile.map((way) => apart(path, way)));
    ask('outline', off <= RIGHT, `${off.toFixed(4)} mm off`);
    // Where nothing could tell, saying so is right.
    const isSaid = truth.unit === 'unknown' && truth.form === 'flat' && o.warnings.some((w) => w.code === 'outline.unsure-unit');
    ask('unit', isSaid || Math.abs(o.unitScale / truth.unitScale - 1) < 1e-6, `${o.unitScale} for ${truth.unitScale}`);
    if (truth.form === 'revolved') {
      ask(
        'tip',
        o.tip !== undefined && truth.tip !== undefined && flatDistance(o.tip, truth.tip) * truth.unitScale <= RIGHT,
        `${o.tip?.join(' ')} for ${truth.tip?.join(' ')}`,
      );
      const widest = 2 * Math.max(...path.flatMap((p) => [p.from[1], p.to[1]]));
      ask('diameter', Math.abs(o.largestDiameter - widest) <= RIGHT, `${o.largestDiameter} for ${widest}`);
    }
  }
  if (wrong.length > 0) console.log(`${truth.file} (${truth.ways.join(', ')})\n  ${wrong.join('\n  ')}`);
}
for (const what of [...new Set(answers.map((a) => a.what)), 'all']) {
  const of = answers.filter((a) => what === 'all' || a.what === what);
  console.log(
    `${what.padEnd(10)} ${String(of.filter((a) => a.right).length).padStart(4)} of ${of.length}  ${((100 * of.filter((a) => a.right).length) / of.length).toFixed(1)} %`,
  );
}

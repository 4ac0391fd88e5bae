import Flatbush from 'flatbush';
import { done, failed, type Result } from '#core/issues';
import { boxOfPath, crossingOf, type FlatPoint, flatDistance, lengthOfPiece, PathDistance, type PathPiece, placeOnPiece, reversePiece } from '#core/outline';
import { type Drawing, SAME_PLACE } from './drawing.ts';
import { type Component, cutWhereTheyMeet, type LooseEnd, Network, type Ring, type Strand } from './network.ts';

/** Something that was done to a drawing on the way to its outline, in words. */
export interface Step {
  readonly code:
    | 'moved'
    | 'traced'
    | 'left out'
    | 'hidden layers'
    | 'layers'
    | 'centre lines'
    | 'doubles'
    | 'bridged'
    | 'frames'
    | 'inner'
    | 'other views'
    | 'unit'
    | 'axis'
    | 'half'
    | 'closed'
    | 'tip'
    | 'fitted'
    | 'chords'
    | 'joined';
  readonly message: string;
  /** What it is about, as it is drawn, mm. */
  readonly lit?: readonly PathPiece[];
}

export interface FindOptions {
  /** Names of the layers that count; all that are shown without it, but for those that are named or used as notes. */
  readonly layers?: readonly string[];
  /** mm. Gaps up to this width are bridged. */
  readonly bridge: number;
  /** In or on what is meant, mm. */
  readonly at?: FlatPoint;
}

/** The outline of what is drawn, not turned or halved yet: closed, or open between two ends. */
export interface FoundOutline {
  readonly ring?: Ring;
  readonly open?: { readonly pieces: readonly PathPiece[]; readonly of: readonly number[] };
  /** Numbers of the drawing's pieces: `of` of the outline refers to these. */
  readonly used: readonly number[];
  /** Centre lines as they are drawn, the longest first, those along each other as one. */
  readonly centreLines: readonly { readonly from: FlatPoint; readonly to: FlatPoint }[];
  readonly usedLayers: ReadonlySet<number>;
}

const NOTE_LAYER = /dim|bem(a|ß|as)|ma(ss|ß)|text|note|anno|hatch|schraff|frame|border|rahmen|title|schriftfeld|sheet|blatt|defpoints|leader|symbol|viewport/i;

/** Finds the outline of a drawing: what is around everything that hangs together, without frames, notes, doubles and inner lines. */
export function findOutline(drawing: Drawing, file: string, { layers, bridge, at }: FindOptions, say: (step: Step) => void): Result<FoundOutline> {
  const chosen = chooseLayers(drawing, file, layers, say);
  if (!chosen.ok) return chosen;
  const usedLayers = chosen.value;
  const on = drawing.drawn.map((d, i) => ({ ...d, i })).filter((d) => usedLayers.has(d.layer) || (layers === undefined && d.isCentreLine));
  const centre = on.filter((d) => d.isCentreLine && d.piece.kind === 'line');
  const centreLines = joinAlong(centre.map((d) => d.piece));
  if (centreLines.length > 0)
    say({
      code: 'centre lines',
      message: `${centreLines.length} centre ${centreLines.length === 1 ? 'line' : 'lines'} kept apart`,
      lit: centre.map((d) => d.piece),
    });
  const solid = on.filter((d) => !d.isCentreLine);
  if (solid.length === 0) return failed('drawing.nothing-on-layers', { file, layers: layers?.join(', ') ?? 'the layers that are shown' });
  const used = solid.map((d) => d.i);
  const { strands, doubles } = cutWhereTheyMeet(
    solid.map((d) => d.piece),
    SAME_PLACE,
  );
  if (doubles.length > 0) say({ code: 'doubles', message: `dropped ${doubles.length} ${doubles.length === 1 ? 'piece' : 'pieces'} drawn twice`, lit: doubles });
  const bridged = bridgeGaps(strands, bridge);
  if (bridged.gaps.length > 0)
    say({
      code: 'bridged',
      message: `bridged ${bridged.gaps.length} ${bridged.gaps.length === 1 ? 'gap' : 'gaps'} up to ${Math.max(...bridged.gaps.map(lengthOfPiece)).toFixed(3)} mm wide`,
      lit: bridged.gaps,
    });
  const components = new Network(bridged.strands, SAME_PLACE).components();
  const views = components.map((c) => viewOf(c, bridged.strands)).filter((v) => v.size > 0);
  const piecesOf = (of: readonly View[]): PathPiece[] => of.flatMap((v) => v.component.strands.map((i) => bridged.strands[i].piece));
  const frames = views.filter((v) => isFrame(v, views));
  const inFrames = views.filter((v) => !frames.includes(v));
  if (frames.length > 0)
    say({ code: 'frames', message: `left out ${frames.length} ${frames.length === 1 ? 'frame' : 'frames'} around other things`, lit: piecesOf(frames) });
  const best = (at && viewAt(views, at)) ?? chooseView(inFrames.length > 0 ? inFrames : views);
  if (!best) return failed('outline.none', { text: `nothing of ${solid.length} lines and arcs is closed or could be` });
  const others = inFrames.filter((v) => v !== best);
  // What lies within it is part of the same view.
  const apart = others.filter((v) => !isWithin(v.box, best.box));
  if (apart.length > 0)
    say({ code: 'other views', message: `left out ${apart.length} ${apart.length === 1 ? 'thing' : 'things'} beside the outline`, lit: piecesOf(apart) });
  const within = others.filter((v) => !apart.includes(v));
  const kept = new Set((best.ring ?? best.open)?.pieces.map(middleKey));
  const inner = [...piecesOf([best]).filter((p) => !kept.has(middleKey(p))), ...piecesOf(within)];
  if (inner.length > 0) say({ code: 'inner', message: `dropped ${inner.length} inner or loose ${inner.length === 1 ? 'line' : 'lines'}`, lit: inner });
  return done({ ...(best.ring ? { ring: best.ring } : {}), ...(best.open ? { open: best.open } : {}), used, centreLines, usedLayers });
}

// Where the middle of a piece is, either way round.
const middleKey = (p: PathPiece): string =>
  placeOnPiece(p, 0.5)
    .map((v) => Math.round(v / SAME_PLACE))
    .join(' ');

function chooseLayers(drawing: Drawing, file: string, layers: readonly string[] | undefined, say: (step: Step) => void): Result<Set<number>> {
  const all = drawing.layers.map((l, i) => ({ ...l, i }));
  if (layers) {
    const unknown = layers.find((name) => !all.some((l) => l.name.toLowerCase() === name.toLowerCase()));
    if (unknown !== undefined) return failed('drawing.unknown-layer', { file, layer: unknown, found: all.map((l) => l.name).join(', ') });
    const chosen = all.filter((l) => layers.some((name) => l.name.toLowerCase() === name.toLowerCase()));
    say({ code: 'layers', message: `took ${chosen.map((l) => l.name).join(', ')}, as asked for` });
    return done(new Set(chosen.map((l) => l.i)));
  }
  const shown = all.filter((l) => !l.isHidden);
  const hidden = all.filter((l) => l.isHidden && l.entities > 0);
  if (hidden.length > 0)
    say({ code: 'hidden layers', message: `left out ${hidden.map((l) => l.name).join(', ')}: switched off or frozen`, lit: onLayers(drawing, hidden) });
  const drawn = shown.filter((l) => l.entities > 0);
  const notes = drawn.filter((l) => NOTE_LAYER.test(l.name) || l.notes > l.entities);
  const geometry = drawn.filter((l) => !notes.includes(l));
  // A drawing that has everything on one layer.
  if (geometry.length === 0) return done(new Set(drawn.map((l) => l.i)));
  if (notes.length > 0)
    say({ code: 'layers', message: `left out ${notes.map((l) => l.name).join(', ')}: notes and frames by name or content`, lit: onLayers(drawing, notes) });
  return done(new Set(geometry.map((l) => l.i)));
}

const onLayers = ({ drawn }: Drawing, layers: readonly { readonly i: number }[]): PathPiece[] =>
  drawn.filter((d) => layers.some((l) => l.i === d.layer)).map((d) => d.piece);

/** Lines that lie along each other, as one each from end to end; the longest first. */
export function joinAlong(lines: readonly PathPiece[]): { from: FlatPoint; to: FlatPoint }[] {
  const out: { from: FlatPoint; to: FlatPoint }[] = [];
  for (const { from, to } of [...lines].sort((a, b) => flatDistance(b.from, b.to) - flatDistance(a.from, a.to))) {
    const l = flatDistance(from, to);
    if (l < SAME_PLACE) continue;
    const along = out.find((o) => {
      const d = flatDistance(o.from, o.to);
      const off = (p: FlatPoint) => Math.abs((p[0] - o.from[0]) * (o.to[1] - o.from[1]) - (p[1] - o.from[1]) * (o.to[0] - o.from[0])) / d;
      return off(from) < 0.01 && off(to) < 0.01;
    });
    if (!along) {
      out.push({ from, to });
      continue;
    }
    const d = flatDistance(along.from, along.to);
    const share = (p: FlatPoint) => ((p[0] - along.from[0]) * (along.to[0] - along.from[0]) + (p[1] - along.from[1]) * (along.to[1] - along.from[1])) / d;
    const ends = [along.from, along.to, from, to].sort((a, b) => share(a) - share(b));
    [along.from, along.to] = [ends[0], ends[3]];
  }
  return out.sort((a, b) => flatDistance(b.from, b.to) - flatDistance(a.from, a.to));
}

// Joins loose ends that are near each other: lines go on to where they meet where that is near, else a short line closes the gap.
function bridgeGaps(strands: readonly Strand[], width: number): { readonly strands: Strand[]; readonly gaps: PathPiece[] } {
  const out = [...strands];
  const gaps: PathPiece[] = [];
  const loose = new Network(strands, SAME_PLACE).looseEnds();
  const pairs = nearPairs(loose, width)
    .map(([a, b]) => ({ a, b, gap: flatDistance(a.at, b.at) }))
    .filter(
      ({ gap, a, b }) =>
        gap <= width && gap > 0 && !(a.strand === b.strand && gap > 0.5 * flatDistance(strands[a.strand].piece.from, strands[a.strand].piece.to)),
    )
    .sort((p, q) => p.gap - q.gap);
  const taken = new Set<LooseEnd>();
  for (const { a, b } of pairs) {
    if (taken.has(a) || taken.has(b)) continue;
    taken.add(a);
    taken.add(b);
    gaps.push({ kind: 'line', from: a.at, to: b.at });
    const at = crossingNear(out[a.strand].piece, out[b.strand].piece, a.at, b.at, width);
    if (at) {
      out[a.strand] = { ...out[a.strand], piece: withEnd(out[a.strand].piece, a.at, at) };
      out[b.strand] = { ...out[b.strand], piece: withEnd(out[b.strand].piece, b.at, at) };
    } else out.push({ piece: { kind: 'line', from: a.at, to: b.at }, of: out[a.strand].of });
  }
  return { strands: out, gaps };
}

function nearPairs(ends: readonly LooseEnd[], within: number): [LooseEnd, LooseEnd][] {
  if (ends.length === 0) return [];
  const index = new Flatbush(ends.length);
  for (const { at } of ends) index.add(at[0], at[1], at[0], at[1]);
  index.finish();
  return ends.flatMap((a, i) =>
    index
      .search(a.at[0] - within, a.at[1] - within, a.at[0] + within, a.at[1] + within)
      .filter((k) => k > i)
      .map((k): [LooseEnd, LooseEnd] => [a, ends[k]]),
  );
}

function crossingNear(p: PathPiece, q: PathPiece, a: FlatPoint, b: FlatPoint, width: number): FlatPoint | undefined {
  if (p.kind !== 'line' || q.kind !== 'line') return undefined;
  const at = crossingOf(p.from, p.to, q.from, q.to)?.at;
  return at && flatDistance(at, a) <= 2 * width && flatDistance(at, b) <= 2 * width ? at : undefined;
}

const withEnd = (piece: PathPiece, end: FlatPoint, at: FlatPoint): PathPiece =>
  flatDistance(piece.from, end) < flatDistance(piece.to, end) ? { ...piece, from: at } : { ...piece, to: at };

interface View {
  readonly component: Component;
  readonly ring?: Ring;
  readonly open?: { readonly pieces: readonly PathPiece[]; readonly of: readonly number[] };
  readonly box: readonly [number, number, number, number];
  /** mm2, what it takes up. */
  readonly size: number;
}

// A part of a drawing that hangs together, as what it could be an outline of.
function viewOf(component: Component, strands: readonly Strand[]): View {
  const pieces = component.strands.map((s) => strands[s].piece);
  const box = boxOfPath(pieces);
  const boxSize = (box[2] - box[0]) * (box[3] - box[1]);
  const ring = component.outer;
  const open = openChain(component, strands);
  // A half section that is not closed along its axis has little in it that is.
  if (open && (!ring || ring.area < 0.3 * boxSize) && open.pieces.length > 0.5 * component.strands.length) return { component, open, box, size: boxSize };
  return ring ? { component, ring, box, size: ring.area } : { component, box, size: 0 };
}

// The way from one of two loose ends to the other.
function openChain(component: Component, strands: readonly Strand[]): View['open'] {
  if (component.looseEnds.length !== 2) return undefined;
  // By the place of their ends, to the same precision as everywhere.
  const ways = new Map<string, number[]>();
  const keysOf = ([x, y]: FlatPoint) => [0, 1].flatMap((i) => [0, 1].map((k) => `${Math.floor(x / CELL + i / 2)} ${Math.floor(y / CELL + k / 2)} ${i}${k}`));
  for (const s of component.strands)
    for (const p of [strands[s].piece.from, strands[s].piece.to]) for (const key of keysOf(p)) ways.set(key, [...(ways.get(key) ?? []), s]);
  const left = new Set(component.strands);
  const pieces: PathPiece[] = [];
  const of: number[] = [];
  let at = component.looseEnds[0].at;
  while (left.size > 0) {
    const next = keysOf(at)
      .flatMap((key) => ways.get(key) ?? [])
      .find((s) => left.has(s) && Math.min(flatDistance(strands[s].piece.from, at), flatDistance(strands[s].piece.to, at)) <= 2 * SAME_PLACE);
    if (next === undefined) break;
    left.delete(next);
    const { piece, of: source } = strands[next];
    const isForward = flatDistance(piece.from, at) <= flatDistance(piece.to, at);
    const along: PathPiece = isForward ? piece : reversePiece(piece);
    pieces.push({ ...along, from: at });
    of.push(source);
    at = along.to;
  }
  return pieces.length > 1 ? { pieces, of } : undefined;
}

// mm. Cells in which ends are looked for: places within half of one of each other are in the same cell of one of four grids.
const CELL = 8 * SAME_PLACE;

const isWithin = (a: View['box'], b: View['box']): boolean => a[0] >= b[0] && a[1] >= b[1] && a[2] <= b[2] && a[3] <= b[3];

// A rectangle around something that is not only circles.
function isFrame(view: View, all: readonly View[]): boolean {
  const [a, b, c, d] = view.box;
  if (!view.ring || view.ring.area < 0.999 * (c - a) * (d - b)) return false;
  return all.some((v) => v !== view && isWithin(v.box, view.box) && v.size > 0 && v.component.strands.length >= 3 && !isCircles(v));
}

// An end view: arcs about one centre.
function isCircles({ ring }: View): boolean {
  const arcs = ring?.pieces.filter((p) => p.kind === 'arc') ?? [];
  return (
    ring !== undefined && arcs.length === ring.pieces.length && arcs.every((p) => flatDistance(p.centre, (arcs[0] as { centre: FlatPoint }).centre) < 0.01)
  );
}

// The smallest thing around a place, else the one that is nearest to it.
function viewAt(views: readonly View[], at: FlatPoint): View | undefined {
  const around = views.filter(({ ring }) => ring && new PathDistance([ring.pieces]).depth(...at) > 0);
  if (around.length > 0) return around.reduce((a, b) => (b.size < a.size ? b : a));
  const away = ({ ring, open }: View) => {
    const pieces = ring?.pieces ?? open?.pieces ?? [];
    return Math.min(...pieces.map((p) => Math.min(...[0, 0.25, 0.5, 0.75].map((s) => flatDistance(placeOnPiece(p, s), at)))));
  };
  return views.length > 0 ? views.reduce((a, b) => (away(b) < away(a) ? b : a)) : undefined;
}

function chooseView(views: readonly View[]): View | undefined {
  const profiles = views.filter((v) => !isCircles(v));
  const among = profiles.length > 0 ? profiles : views;
  return among.length > 0 ? among.reduce((a, b) => (b.size > a.size ? b : a)) : undefined;
}

import { done, failed, type Issue, issue, type Result } from '#core/issues';
import { roundTo } from '#core/math';
import { areaOfPath, areaOfPolygon, boxOfPath, type FlatPoint, mapPiece, type PathPiece, profileVolume, reversePath, validateProfile } from '#core/outline';
import { chordsToArcs } from './chords.ts';
import type { Drawing, DrawingLayer } from './drawing.ts';
import { axisAsAsked, axisOfOpen, findAxis, type FlatAxis, type FoundAxis } from './find-axis.ts';
import { findOutline, type FoundOutline, type Step } from './find-outline.ts';
import { closeToAxis, halve, inAxis, type ProfilePiece } from './half-profile.ts';
import { type EndShank, fitsUnit, fromOtherEnd, holdScore, outsideOf, shankAt, usualShank } from './shank.ts';
import { sharpen } from './sharpen.ts';
import { fitCurve, fitSpans, joinPieces, settleArc } from './tidy-path.ts';
import type { TracedEdge } from './trace-picture.ts';

export interface ReadDrawingOptions {
  readonly layers?: readonly string[];
  /** What it is; found out without it. */
  readonly form?: 'revolved' | 'flat';
  /** mm. Gaps up to this width are bridged. */
  readonly bridge?: number;
  /** mm. How far lines and arcs may be from splines and ellipses. */
  readonly tolerance?: number;
  /** The unit is known: what the shank says is not asked. */
  readonly isUnitKnown?: boolean;
  /** The tip is at the other end than is found. */
  readonly flip?: boolean;
  /** The axis by two of its points, in the drawing's own coordinates and unit. */
  readonly axis?: { readonly from: FlatPoint; readonly to: FlatPoint };
  /** A point in or on what is meant, where there is more than one thing: in the drawing's own coordinates and unit. */
  readonly at?: FlatPoint;
}

/** What else is told of an edge that was traced. */
interface Traced extends ReadDrawingOptions {
  /** mm. How far its lines may be off where they would be straight or alike. */
  readonly slack?: number;
}

/** A drawing read as an outline, in mm. */
export interface ReadOutline {
  readonly form: 'revolved' | 'flat';
  readonly unit: Drawing['unit'];
  /** mm of one unit of the file. */
  readonly unitScale: number;
  readonly layers: readonly (DrawingLayer & { readonly used: boolean })[];
  /** In the drawing's own coordinates and unit; the direction runs from the tip into the tool. */
  readonly axis?: FlatAxis;
  readonly tip?: FlatPoint;
  /**
   * Revolved: ways of the half section in [z, r] from the tip's end on, z from the tip along the axis; each begins and ends on the axis, or is closed beside
   * it. Flat: one closed way, counter-clockwise.
   */
  readonly profile: readonly (readonly PathPiece[])[];
  readonly largestDiameter: number;
  readonly length: number;
  /** mm2, of the half section or of the flat outline. */
  readonly area: number;
  /** mm3. */
  readonly volume?: number;
  readonly cutting?: { readonly from: number; readonly to: number };
  readonly shank?: { readonly diameter: number; readonly length: number };
  readonly steps: readonly Step[];
  readonly warnings: readonly Issue[];
}

const DEFAULT_BRIDGE = 0.2;
const DEFAULT_FIT = 0.005;
// mm. Lines along each other, and arcs of one circle, are one within this.
const ALONG = 2e-3;
// Units that a drawing without one may be in, mm of each: mm and inch, and what SVG programs take for a point and a pixel.
const DXF_SCALES = [1, 25.4];
const SVG_SCALES = [25.4 / 96, 1, 25.4 / 72, 25.4];
// Times as long as wide: what is alike about a line and longer than this is turned.
const VERY_LONG = 3;
const LONG = 1.5;
// mm.
const LEAST_TOOL = 20;
// Difference of scores from which it is sure which end is held.
const SURE = 0.5;

/** Reads a drawing by itself: what is around it, its axis, its tip, one half; every step is said. */
export function readDrawing(drawing: Drawing, file: string, options: ReadDrawingOptions = {}): Result<ReadOutline> {
  const steps: Step[] = [];
  const say = (step: Step) => void steps.push(step);
  if (drawing.origin[0] !== 0 || drawing.origin[1] !== 0)
    say({ code: 'moved', message: `moved from ${drawing.origin.join(', ')} to the origin, where no digits are lost` });
  const left = Object.entries(drawing.leftOut);
  if (left.length > 0) say({ code: 'left out', message: `left out ${left.map(([what, n]) => `${what} (${n})`).join(', ')}` });
  const { layers, bridge = DEFAULT_BRIDGE, at } = options;
  const found = findOutline(drawing, file, { ...(layers ? { layers } : {}), bridge, ...(at ? { at: fromFile(drawing, at) } : {}) }, say);
  if (!found.ok) return found;
  return new OutlineReader(drawing, file, options, steps, found.value).read();
}

// Pixels. What lines fitted to a traced edge may be off it: noise and steps of the grid go, and half a pixel stays.
const TRACED_FIT = 0.4;
// Points along a traced edge, about a pixel each, that a corner may be worn over.
const WORN = 5;
// Pixels. What the two halves of something photographed or drawn by pixels may differ.
const TRACED_SLACK = 1.5;

/** Reads the edge of a thing in a picture as an outline; `mmPerPixel` by calibration. */
export function readTraced({ points, contrast }: TracedEdge, file: string, mmPerPixel: number, options: ReadDrawingOptions = {}): Result<ReadOutline> {
  const steps: Step[] = [
    {
      code: 'traced',
      message: `traced ${points.length} places of the edge, at ${Math.round(100 * contrast)} % contrast; a pixel is ${mmPerPixel.toFixed(4)} mm, lines are within ${(TRACED_FIT * mmPerPixel).toFixed(4)} mm of the edge`,
    },
  ];
  const places = points.map(([x, y]): FlatPoint => [x * mmPerPixel, y * mmPerPixel]);
  const pieces = places.map((from, i): PathPiece => ({ kind: 'line', from, to: places[(i + 1) % places.length] }));
  const drawing: Drawing = {
    format: 'picture',
    unit: 'px',
    unitScale: mmPerPixel,
    origin: [0, 0],
    isUpsideDown: true,
    layers: [],
    drawn: pieces.map((piece) => ({ piece, layer: 0, entity: 0, isCurve: true, isCentreLine: false })),
    leftOut: {},
    warnings: [],
  };
  const of = pieces.map((_, i) => i);
  const found: FoundOutline = { ring: { pieces, of, area: areaOfPolygon(places) }, used: of, centreLines: [], usedLayers: new Set() };
  const { tolerance = TRACED_FIT * mmPerPixel } = options;
  return new OutlineReader(drawing, file, { ...options, tolerance, isUnitKnown: true, slack: TRACED_SLACK * mmPerPixel }, steps, found).read();
}

class OutlineReader {
  private readonly drawing: Drawing;
  private readonly file: string;
  private readonly options: Traced;
  private readonly steps: Step[];
  private readonly found: FoundOutline;
  private readonly warnings: Issue[];

  constructor(drawing: Drawing, file: string, options: Traced, steps: Step[], found: FoundOutline) {
    this.drawing = drawing;
    this.file = file;
    this.options = options;
    this.steps = steps;
    this.found = found;
    this.warnings = [...drawing.warnings];
  }

  read(): Result<ReadOutline> {
    const { ring, open, centreLines } = this.found;
    const pieces = ring ? this.numbered(ring) : open ? this.numbered(open) : [];
    if (pieces.length === 0) return failed('outline.none', { text: 'what hangs together has no area' });
    // Lines of dimensions may be part of it then.
    const noted = this.drawing.layers.filter((l, i) => l.notes > 0 && this.found.usedLayers.has(i));
    if (noted.length > 0) this.warnings.push(issue('outline.notes-among', { layers: noted.map((l) => l.name).join(', ') }));
    const plain = pieces.map((p) => p.piece);
    const first = this.axisOf(plain, ring !== undefined, centreLines);
    const waysAbout = (a: FoundAxis) => (ring ? done(halve(inAxis(pieces, a), a.kind)) : closeToAxis(inAxis(pieces, a)));
    const isAbout = (a: FoundAxis | undefined): boolean => {
      const halves = a && waysAbout(a);
      return a !== undefined && halves?.ok === true && this.isTurned(a, halves.value);
    };
    const axis = first?.other && !isAbout(first) && isAbout(first.other) ? first.other : first;
    const ways = axis && waysAbout(axis);
    const form = this.options.form ?? (axis && (!ring || (ways?.ok && this.isTurned(axis, ways.value))) ? 'revolved' : 'flat');
    if (form === 'flat') return ring ? this.flat(pieces) : this.refuseOpen(plain);
    if (!axis || !ways) return ring ? failed('outline.no-axis', { text: 'its halves are not alike, and no long side is straight' }) : this.refuseOpen(plain);
    return ways.ok ? this.revolved(ways.value, axis, ring !== undefined) : ways;
  }

  private axisOf(plain: readonly PathPiece[], isClosed: boolean, centreLines: FoundOutline['centreLines']): FoundAxis | undefined {
    const { axis: asked, slack } = this.options;
    if (!asked) return isClosed ? findAxis(plain, centreLines, slack) : axisOfOpen(plain, centreLines);
    const axis = axisAsAsked(plain, fromFile(this.drawing, asked.from), fromFile(this.drawing, asked.to), isClosed, slack);
    if (axis && !axis.isAlike) this.warnings.push(issue('outline.unlike-halves', {}));
    return axis;
  }

  private numbered({ pieces, of }: { readonly pieces: readonly PathPiece[]; readonly of: readonly number[] }): ProfilePiece[] {
    return pieces.map((piece, i) => ({ piece, of: this.found.used[of[i]] }));
  }

  private refuseOpen(pieces: readonly PathPiece[]): Result<never> {
    const [a, b] = [pieces[0].from, pieces[pieces.length - 1].to];
    const [from, to] = [a, b].map((p) => sayPoint(toFile(this.drawing, p)));
    return failed('outline.open', { from, to, gap: Math.hypot(b[0] - a[0], b[1] - a[1]).toFixed(3) });
  }

  // Without a centre line it takes a shank of a usual size, or that it is long and its halves are alike: else it is rather an insert, seen from above.
  private isTurned(axis: FoundAxis, ways: readonly (readonly ProfilePiece[])[]): boolean {
    if (axis.isDrawn) return true;
    if (ways.length === 0) return false;
    const [low, , high, radius] = boxOfPath(ways.flat().map(({ piece }) => piece));
    const whole = high - low;
    // In a picture there are no centre lines.
    const long = this.drawing.format === 'picture' ? LONG : VERY_LONG;
    if (axis.kind === 'full' && whole > long * 2 * radius) return true;
    const path = outsideOf(reversePath(ways[0].map((p) => p.piece)));
    const scales = this.options.isUnitKnown ? [1] : this.scales();
    return [this.shankAt(path), this.shankAt(fromOtherEnd(path, whole))].some(
      (s) =>
        s?.isFlat && s.length > 0.15 * whole && scales.some((mm) => usualShank(s.diameter * mm, this.options.slack) !== undefined && whole * mm >= LEAST_TOOL),
    );
  }

  private shankAt(way: readonly PathPiece[], scale = 1): EndShank | undefined {
    return shankAt(way, this.options.slack === undefined ? undefined : this.options.slack * scale);
  }

  // By how much the drawing may have to be larger.
  private scales(): number[] {
    const { unit, unitScale, format } = this.drawing;
    return [1, ...(format === 'svg' && unit === 'unknown' ? SVG_SCALES : DXF_SCALES).map((mm) => mm / unitScale)];
  }

  private flat(pieces: readonly ProfilePiece[]): Result<ReadOutline> {
    const path = this.tidy(pieces, true);
    const scale = this.drawing.unitScale;
    if (this.drawing.unit === 'unknown' && !this.options.isUnitKnown)
      this.warnings.push(issue('outline.unsure-unit', { file: this.file, text: `the file says none; ${nameOfScale(scale)} was taken` }));
    const [x0, y0, x1, y1] = boxOfPath(path);
    const across = Math.max(x1 - x0, y1 - y0);
    return done({
      form: 'flat',
      unit: this.drawing.unit,
      unitScale: scale,
      layers: this.layers(),
      profile: [path],
      largestDiameter: across,
      length: across,
      area: areaOfPath(path),
      steps: this.steps,
      warnings: this.warnings,
    });
  }

  private revolved(ways: readonly (readonly ProfilePiece[])[], axis: FoundAxis, isClosed: boolean): Result<ReadOutline> {
    this.steps.push({ code: 'axis', message: `axis: ${axis.why}` });
    if (isClosed) this.steps.push({ code: 'half', message: axis.kind === 'full' ? 'kept one half' : 'it is a half section' });
    else this.steps.push({ code: 'closed', message: 'closed along the axis' });
    if (ways.length === 0) return failed('outline.none', { text: 'nothing of it is beside its axis' });
    const [low, , high] = boxOfPath(ways.flat().map(({ piece }) => piece));
    const whole = high - low;
    // From the end that is at the left of the axis on: along z.
    const shift = ([z, r]: FlatPoint): FlatPoint => [z - low, r];
    const along = ways.map((way) => reversePath(mapPath(this.tidy(way, isRing(way)), shift)));
    along.sort((a, b) => startOf(a) - startOf(b));
    const isHeldAtStart = this.heldEnd(along, whole);
    const path = isHeldAtStart ? along.map((way) => fromOtherEnd(way, whole)).reverse() : along;
    const shank = this.shankAt(fromOtherEnd(outsideOf(path[path.length - 1]), whole));
    const scale = this.findUnit(path, whole);
    // A thousandth of a nanometre: what turning a drawing leaves of its digits.
    const profile = path.map((way) => mapPath(way, ([z, r]) => [roundTo(z * scale, 9), roundTo(r * scale, 9)]));
    const closed = profile.map(closedLoop);
    const faults = validateProfile(closed);
    if (faults.length > 0) return failed('outline.none', { text: faults[0] });
    const sign = isHeldAtStart ? -1 : 1;
    const tipZ = isHeldAtStart ? low + whole : low;
    const unit = this.drawing.unitScale;
    const up = this.drawing.isUpsideDown ? -1 : 1;
    const tip = toFile(this.drawing, [axis.point[0] + tipZ * axis.direction[0], axis.point[1] + tipZ * axis.direction[1]]);
    const held = shank?.isFlat && (usualShank(shank.diameter * scale, this.options.slack) !== undefined || shank.length > 0.25 * whole) ? shank : undefined;
    return done({
      form: 'revolved',
      unit: scale === 1 && this.drawing.unit !== 'unknown' ? this.drawing.unit : nameOfScale(unit * scale),
      unitScale: unit * scale,
      layers: this.layers(),
      axis: { point: tip, direction: [sign * axis.direction[0], up * sign * axis.direction[1]] },
      tip,
      profile,
      largestDiameter: roundTo(2 * boxOfPath(profile.flat())[3], 9),
      length: roundTo(whole * scale, 9),
      area: closed.reduce((sum, loop) => sum + areaOfPath(loop), 0),
      volume: profileVolume(closed),
      ...(held ? this.stretches(held, whole, scale) : {}),
      steps: this.steps,
      warnings: this.warnings,
    });
  }

  private stretches({ diameter, length, chamfer }: EndShank, whole: number, scale: number): Pick<ReadOutline, 'cutting' | 'shank'> {
    const tidy = (v: number) => roundTo(v * scale, 9);
    return { cutting: { from: 0, to: tidy(whole - length - chamfer) }, shank: { diameter: tidy(diameter), length: tidy(length + chamfer) } };
  }

  // Curves fitted by lines and arcs, and what lies along each other as one.
  private tidy(pieces: readonly ProfilePiece[], isClosed: boolean): PathPiece[] {
    const { tolerance = DEFAULT_FIT } = this.options;
    const { drawn } = this.drawing;
    const path: PathPiece[] = [];
    let chords = 0;
    let fitted = 0;
    for (let i = 0; i < pieces.length; ) {
      const { isCurve, entity } = drawn[pieces[i].of];
      let end = i + 1;
      while (isCurve && end < pieces.length && drawn[pieces[end].of].isCurve && drawn[pieces[end].of].entity === entity) end++;
      if (end - i > 2) {
        const places = [pieces[i].piece.from, ...pieces.slice(i, end).map((p) => p.piece.to)];
        const pixel = this.drawing.format === 'picture' ? this.drawing.unitScale : undefined;
        const fit = pixel === undefined ? fitCurve(places, tolerance) : sharpen(fitSpans(places, tolerance, WORN), places, pixel).map(settleArc);
        chords += end - i;
        fitted += fit.length;
        path.push(...fit);
      } else path.push(...pieces.slice(i, end).map((p) => p.piece));
      i = end;
    }
    if (chords > 0) this.steps.push({ code: 'fitted', message: `fitted curves by ${fitted} lines and arcs within ${roundTo(tolerance, 4)} mm` });
    const curved = chordsToArcs(path);
    if (curved.lines > 0)
      this.steps.push({
        code: 'chords',
        message: `took ${curved.lines} short lines for ${curved.arcs} ${curved.arcs === 1 ? 'arc' : 'arcs'}: their ends lie on circles`,
      });
    const joined = joinPieces(curved.path, Math.max(ALONG, (this.options.slack ?? 0) / 3), isClosed);
    if (joined.length < path.length) this.steps.push({ code: 'joined', message: `joined ${path.length} pieces to ${joined.length}` });
    return joined;
  }

  // Whether it is held at the end where it begins.
  private heldEnd(ways: readonly (readonly PathPiece[])[], whole: number): boolean {
    const scores = [1, ...SCALES_TO_TRY].map((s) => {
      const scaled = ways.map((way) => mapPath(way, ([z, r]) => [z * s, r * s]));
      return [
        holdScore(this.shankAt(outsideOf(scaled[0]), s), whole * s, this.options.slack),
        holdScore(this.shankAt(fromOtherEnd(outsideOf(scaled[scaled.length - 1]), whole * s), s), whole * s, this.options.slack),
      ];
    });
    // As it is in its own unit; where that says nothing, in another.
    const [start, end] = scores.find(([a, b]) => Math.abs(a - b) >= SURE) ?? scores[0];
    if (this.options.flip) {
      this.steps.push({ code: 'tip', message: 'turned end for end, as asked for' });
      return start <= end;
    }
    if (Math.abs(start - end) < SURE)
      this.warnings.push(issue('outline.unsure-tip', { text: 'both ends look alike; the tip was taken to be where the axis begins' }));
    this.steps.push({ code: 'tip', message: 'the tip is at the end away from the shank' });
    return start > end;
  }

  // By how much the drawing is to be larger, for its shank to be a usual one.
  private findUnit(ways: readonly (readonly PathPiece[])[], whole: number): number {
    if (this.options.isUnitKnown) return 1;
    const shanks = [this.shankAt(outsideOf(ways[0])), this.shankAt(fromOtherEnd(outsideOf(ways[ways.length - 1]), whole))].filter((s) => s !== undefined);
    const { unit, unitScale } = this.drawing;
    const own = fitsUnit(shanks, whole, 1);
    const best = this.scales().reduce((a, b) => (fitsUnit(shanks, whole, b) > fitsUnit(shanks, whole, a) ? b : a), 1);
    const score = fitsUnit(shanks, whole, best);
    // What a file says is believed until it cannot be.
    const isClear = unit === 'unknown' ? score > own : score >= 3 && own < 1.5;
    const scale = isClear ? best : 1;
    const name = nameOfScale(unitScale * scale);
    if (scale !== 1) this.steps.push({ code: 'unit', message: `taken as ${name}: its shank is a usual one then` });
    if (unit === 'unknown' && Math.max(own, score) < 2)
      this.warnings.push(issue('outline.unsure-unit', { file: this.file, text: `the file says none, and no shank tells; ${name} was taken` }));
    else if (unit !== 'unknown' && scale !== 1)
      this.warnings.push(issue('outline.unsure-unit', { file: this.file, text: `the file says ${unit}, but the shank is a usual one in ${name}` }));
    return scale;
  }

  private layers(): ReadOutline['layers'] {
    return this.drawing.layers.map((l, i) => ({ ...l, used: this.found.usedLayers.has(i) }));
  }
}

const SCALES_TO_TRY = [25.4, 1 / 25.4];

const NAMES: readonly (readonly [number, Drawing['unit']])[] = [
  [1, 'mm'],
  [25.4, 'inch'],
  [25.4 / 96, 'px'],
  [25.4 / 72, 'pt'],
];
const nameOfScale = (mm: number): Drawing['unit'] => NAMES.find(([scale]) => Math.abs(mm / scale - 1) < 1e-9)?.[1] ?? 'unknown';

const mapPath = (path: readonly PathPiece[], at: (p: FlatPoint) => FlatPoint): PathPiece[] => path.map((p) => mapPiece(p, at));

const isRing = (way: readonly ProfilePiece[]): boolean => {
  const [a, b] = [way[0].piece.from, way[way.length - 1].piece.to];
  return a[0] === b[0] && a[1] === b[1];
};

const startOf = (way: readonly PathPiece[]): number => boxOfPath(way)[0];

/** A way of a half section, which runs along z, as a loop around material: against z, and back along the axis. */
export function closedLoop(way: readonly PathPiece[]): PathPiece[] {
  const back = reversePath(way);
  const [first, last] = [back[0].from, back[back.length - 1].to];
  const isClosed = first[0] === last[0] && first[1] === last[1];
  return isClosed ? back : [...back, { kind: 'line', from: last, to: first }];
}

// From mm here to the file's own coordinates and unit.
const toFile = ({ unitScale, origin, isUpsideDown }: Drawing, [x, y]: FlatPoint): FlatPoint => [
  (x + origin[0]) / unitScale,
  ((isUpsideDown ? -1 : 1) * (y + origin[1])) / unitScale,
];

// From the file's own coordinates and unit to mm here.
const fromFile = ({ unitScale, origin, isUpsideDown }: Drawing, [x, y]: FlatPoint): FlatPoint => [
  x * unitScale - origin[0],
  (isUpsideDown ? -y : y) * unitScale - origin[1],
];

const sayPoint = ([x, y]: FlatPoint): string => `${x.toFixed(3)}, ${y.toFixed(3)}`;

import { XMLParser, XMLValidator } from 'fast-xml-parser';
import svgpath from 'svgpath';
import { done, failed, type Issue, issue, type Result } from '#core/issues';
import { radFromDeg } from '#core/math';
import { type FlatPoint, flatDistance } from '#core/outline';
import { MM_PER_INCH } from '#core/units';
import { type Affine, chainAffine, mapPoint, scaleBy, shiftBy, STAY, turnBy } from './affine.ts';
import { pointsOfSpline } from './curves.ts';
import type { Drawing } from './drawing.ts';
import { CURVE_SAG, type Pen, PieceSink } from './piece-sink.ts';

const PX = MM_PER_INCH / 96;
const UNITS: Readonly<Record<string, readonly [Drawing['unit'], number]>> = {
  mm: ['mm', 1],
  cm: ['cm', 10],
  m: ['m', 1000],
  in: ['inch', MM_PER_INCH],
  pt: ['unknown', MM_PER_INCH / 72],
  pc: ['unknown', MM_PER_INCH / 6],
};
const MOST_PIECES = 2_000_000;
// How often something is used: no drawing needs that many.
const MOST_USES = 100_000;
// Of `use` in `use`: eight of each other in each are a billion otherwise.
const DEEPEST = 16;
const CENTRE_LINE = /cent(er|re)|mitte|achse|axis/i;

/** An element of the parser: its name with its children, and its attributes. */
type Node = Readonly<Record<string, unknown>> & { readonly ':@'?: Readonly<Record<string, string>> };

/**
 * Reads an SVG file: paths, shapes, transforms, `use` and nested drawings, as lines and arcs in mm with y upwards. Styles count as far as they hide; scripts and
 * outside references are left out. `unitScale`: mm of a unit, where it is known better than the file says.
 */
export function readSvg(bytes: Uint8Array, file: string, unitScale?: number): Result<Drawing> {
  if (bytes.length === 0) return failed('file.empty', { file });
  const text = new TextDecoder('utf-8').decode(bytes);
  // Entities could be made to grow without an end.
  if (/<!ENTITY/i.test(text.slice(0, 100_000))) return failed('drawing.not-svg', { file, text: 'it declares entities of its own' });
  const valid = XMLValidator.validate(text);
  if (valid !== true) return failed('drawing.not-svg', { file, text: `line ${valid.err.line}: ${valid.err.msg}` });
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '',
    preserveOrder: true,
    parseTagValue: false,
    parseAttributeValue: false,
    processEntities: false,
  });
  const root = (parser.parse(text) as Node[]).find((n) => 'svg' in n);
  if (!root) return failed('drawing.not-svg', { file, text: 'it has no svg element' });
  return new SvgReader(file, root, unitScale).read();
}

class SvgReader {
  private readonly file: string;
  private readonly root: Node;
  private readonly unit: Drawing['unit'];
  private readonly scale: number;
  private readonly sink = new PieceSink();
  private readonly layers: { name: string; entities: number; notes: number }[] = [];
  private readonly byId = new Map<string, Node>();
  private readonly leftOut: Record<string, number> = {};
  private readonly warnings = new Map<string, Issue>();
  private entity = 0;
  private uses = 0;

  constructor(file: string, root: Node, unitScale: number | undefined) {
    this.file = file;
    this.root = root;
    const { width = '', viewBox } = attributesOf(root);
    const [, size = '', unit = ''] = /^\s*([\d.eE+-]+)\s*([a-z]*)\s*$/.exec(width) ?? [];
    const box = (viewBox ?? '').split(/[\s,]+/).map(Number);
    const [name, mm] = UNITS[unit] ?? (['unknown', PX] as const);
    const across = box.length === 4 && box[2] > 0 && Number(size) > 0 ? Number(size) / box[2] : 1;
    this.unit = name;
    this.scale = unitScale ?? mm * across;
    const index = (n: Node) => {
      const { id } = attributesOf(n);
      if (id !== undefined) this.byId.set(id, n);
      for (const child of childrenOf(n)) index(child);
    };
    index(root);
  }

  read(): Result<Drawing> {
    const map = scaleBy(this.scale, -this.scale);
    for (const child of childrenOf(this.root)) this.put(child, map, 'drawing', false, []);
    const { drawn } = this.sink;
    if (drawn.length > MOST_PIECES)
      return failed('drawing.too-many', { file: this.file, count: `more than ${MOST_PIECES.toLocaleString('en')} lines and arcs` });
    if (this.uses > MOST_USES) return failed('drawing.too-many', { file: this.file, count: `more than ${MOST_USES.toLocaleString('en')} uses of its parts` });
    const found = Object.entries(this.leftOut).map(([what, count]) => `${count} ${what}`);
    if (drawn.length === 0) return failed('drawing.nothing-drawn', { file: this.file, found: found.length > 0 ? found.join(', ') : 'no element' });
    const bad = drawn.some(({ piece }) => ![...piece.from, ...piece.to, ...(piece.kind === 'arc' ? piece.centre : [])].every(Number.isFinite));
    if (bad) return failed('drawing.not-svg', { file: this.file, text: 'a number in it is none' });
    const { unit, scale: unitScale, leftOut } = this;
    const layers = this.layers.map((l) => ({ ...l, isHidden: false }));
    return done({ format: 'svg', unit, unitScale, origin: [0, 0], isUpsideDown: true, layers, drawn, leftOut, warnings: [...this.warnings.values()] });
  }

  private put(node: Node, before: Affine, group: string, isCentre: boolean, within: readonly Node[]): void {
    const tag = tagOf(node);
    if (tag === '' || tag === '#text' || this.sink.drawn.length > MOST_PIECES || this.uses > MOST_USES) return;
    const a = attributesOf(node);
    const hides = (text = '') => /display\s*:\s*none|visibility\s*:\s*hidden/.test(text);
    if (a.display === 'none' || a.visibility === 'hidden' || hides(a.style)) return this.leave('hidden');
    const map = chainAffine(before, transformOf(a.transform));
    const isCentreLine = isCentre || isDashDot(a['stroke-dasharray'] ?? /stroke-dasharray\s*:\s*([^;]+)/.exec(a.style ?? '')?.[1]);
    const own = a['inkscape:label'] ?? a.id;
    switch (tag) {
      case 'svg':
      case 'g':
      case 'a':
      case 'switch': {
        const name = own ?? group;
        const inner = tag === 'svg' ? chainAffine(map, shiftBy(numberIn(a.x), numberIn(a.y))) : map;
        for (const child of childrenOf(node)) this.put(child, inner, name, isCentreLine || CENTRE_LINE.test(own ?? ''), within);
        return;
      }
      case 'use': {
        const ref = a.href ?? a['xlink:href'] ?? '';
        const to = this.byId.get(ref.slice(1));
        if (!ref.startsWith('#') || !to) return this.warn(issue('drawing.missing-block', { file: this.file, block: ref.slice(0, 60) || 'without a name' }));
        if (within.includes(to) || within.length >= DEEPEST) return this.warn(issue('drawing.block-in-itself', { file: this.file, block: ref.slice(0, 60) }));
        this.uses++;
        const at = chainAffine(map, shiftBy(numberIn(a.x), numberIn(a.y)));
        if (tagOf(to) === 'symbol') for (const child of childrenOf(to)) this.put(child, at, group, isCentreLine, [...within, to]);
        else this.put(to, at, group, isCentreLine, [...within, to]);
        return;
      }
      case 'path':
      case 'line':
      case 'polyline':
      case 'polygon':
      case 'rect':
      case 'circle':
      case 'ellipse':
        this.shape(tag, a, map, group, isCentreLine || CENTRE_LINE.test(own ?? ''));
        return;
      case 'text':
        this.layers[this.layerOf(group)].notes++;
        return this.leave('texts');
      case 'image':
        return this.leave('pictures');
      case 'script':
      case 'foreignObject':
        return this.leave('scripts');
      default:
    }
  }

  private shape(tag: string, a: Readonly<Record<string, string>>, map: Affine, group: string, isCentreLine: boolean): void {
    const layer = this.layerOf(group);
    const pen: Pen = { layer, entity: this.entity, isCentreLine };
    const before = this.sink.drawn.length;
    const n = (key: string) => numberIn(a[key]);
    if (tag === 'line') this.sink.line([n('x1'), n('y1')], [n('x2'), n('y2')], map, pen);
    else if (tag === 'circle') this.sink.arc([n('cx'), n('cy')], n('r'), 0, 2 * Math.PI, map, pen);
    else if (tag === 'ellipse') this.sink.ellipse([n('cx'), n('cy')], [n('rx'), 0], [0, n('ry')], 0, 2 * Math.PI, map, pen);
    else this.path(tag === 'path' ? (a.d ?? '') : tag === 'rect' ? pathOfRect(a) : pathOfPoints(a.points ?? '', tag === 'polygon'), map, pen);
    if (this.sink.drawn.length === before) return;
    this.layers[layer].entities++;
    this.entity++;
  }

  private path(d: string, map: Affine, pen: Pen): void {
    const parsed = svgpath(d).abs().unshort();
    // What is before the first mistake is drawn, as the standard has it.
    const { err } = parsed as unknown as { err?: string };
    if (err) this.warn(issue('drawing.bad-entity', { file: this.file, text: `a path with a mistake (${err.slice(0, 80)})` }));
    let start: FlatPoint = [0, 0];
    parsed.iterate((segment, _, x, y) => {
      const [kind, ...v] = segment as [string, ...number[]];
      const from: FlatPoint = [x, y];
      const bezier = (points: readonly FlatPoint[]) => {
        const degree = points.length - 1;
        const knots = [...Array<number>(degree + 1).fill(0), ...Array<number>(degree + 1).fill(1)];
        this.sink.curve(pointsOfSpline({ degree, knots, points: points.map((p) => mapPoint(map, p)) }, CURVE_SAG), pen);
      };
      switch (kind) {
        case 'M':
          start = [v[0], v[1]];
          break;
        case 'L':
          this.sink.line(from, [v[0], v[1]], map, pen);
          break;
        case 'H':
          this.sink.line(from, [v[0], y], map, pen);
          break;
        case 'V':
          this.sink.line(from, [x, v[0]], map, pen);
          break;
        case 'C':
          bezier([from, [v[0], v[1]], [v[2], v[3]], [v[4], v[5]]]);
          break;
        case 'Q':
          bezier([from, [v[0], v[1]], [v[2], v[3]]]);
          break;
        case 'A':
          this.arc(from, v, map, pen);
          break;
        case 'Z':
          if (flatDistance(from, start) > 0) this.sink.line(from, start, map, pen);
          break;
        default:
      }
    });
  }

  // From the ends of an elliptical arc to its centre: SVG 2, appendix B.2.4.
  private arc(from: FlatPoint, [rx0, ry0, turn, large, sweep, x, y]: readonly number[], map: Affine, pen: Pen): void {
    const phi = radFromDeg(turn);
    const [c, s] = [Math.cos(phi), Math.sin(phi)];
    const [hx, hy] = [(from[0] - x) / 2, (from[1] - y) / 2];
    const [px, py] = [c * hx + s * hy, -s * hx + c * hy];
    let [rx, ry] = [Math.abs(rx0), Math.abs(ry0)];
    if (rx === 0 || ry === 0 || (hx === 0 && hy === 0)) return this.sink.line(from, [x, y], map, pen);
    const grow = Math.sqrt(Math.max(1, (px * px) / (rx * rx) + (py * py) / (ry * ry)));
    [rx, ry] = [rx * grow, ry * grow];
    const over = rx * rx * py * py + ry * ry * px * px;
    const k = (large === sweep ? -1 : 1) * Math.sqrt(Math.max(0, (rx * rx * ry * ry - over) / over));
    const [qx, qy] = [(k * rx * py) / ry, (-k * ry * px) / rx];
    const centre: FlatPoint = [c * qx - s * qy + (from[0] + x) / 2, s * qx + c * qy + (from[1] + y) / 2];
    const at = (vx: number, vy: number) => Math.atan2(vy / ry, vx / rx);
    const [a, b] = [at(px - qx, py - qy), at(-px - qx, -py - qy)];
    const turned = 2 * Math.PI;
    const [start, end] = sweep ? [a, b + (b <= a ? turned : 0)] : [a, b - (b >= a ? turned : 0)];
    if (Math.abs(rx - ry) > 1e-9 * rx) return this.sink.ellipse(centre, [rx * c, rx * s], [-ry * s, ry * c], start, end, map, pen);
    // A circle: by its bulge, so that its ends are those of the file; in two where it is more than half.
    const parts = Math.abs(end - start) > Math.PI ? 2 : 1;
    const place = (t: number): FlatPoint => [centre[0] + rx * Math.cos(t + phi), centre[1] + rx * Math.sin(t + phi)];
    const stops = parts === 1 ? [from, [x, y] as const] : [from, place((start + end) / 2), [x, y] as const];
    for (let i = 1; i < stops.length; i++) this.sink.bulge(stops[i - 1], stops[i], Math.tan((end - start) / parts / 4), map, pen);
  }

  private layerOf(name: string): number {
    const known = this.layers.findIndex((l) => l.name === name);
    return known >= 0 ? known : this.layers.push({ name, entities: 0, notes: 0 }) - 1;
  }

  private leave(what: string): void {
    this.leftOut[what] = (this.leftOut[what] ?? 0) + 1;
  }

  private warn(w: Issue): void {
    this.warnings.set(JSON.stringify(w), w);
  }
}

const attributesOf = (node: Node): Readonly<Record<string, string>> => node[':@'] ?? {};
const tagOf = (node: Node): string => Object.keys(node).find((k) => k !== ':@') ?? '';
function childrenOf(node: Node): Node[] {
  const inner = node[tagOf(node)];
  return Array.isArray(inner) ? (inner as Node[]) : [];
}

const numberIn = (text: string | undefined): number => {
  const value = parseFloat(text ?? '');
  return Number.isFinite(value) ? value : 0;
};

const isDashDot = (dashes: string | undefined): boolean => {
  const lengths = (dashes ?? '')
    .split(/[\s,]+/)
    .map(Number)
    .filter((v) => v > 0);
  return lengths.length >= 4 && Math.max(...lengths) > 2 * Math.min(...lengths);
};

function transformOf(text: string | undefined): Affine {
  let map = STAY;
  for (const [, name, inner] of (text ?? '').matchAll(/(matrix|translate|scale|rotate|skewX|skewY)\s*\(([^)]*)\)/g)) {
    const v = inner
      .split(/[\s,]+/)
      .filter(Boolean)
      .map(Number);
    const [p = 0, q = 0, r = 0] = v;
    if (name === 'matrix' && v.length === 6) map = chainAffine(map, v as unknown as Affine);
    else if (name === 'translate') map = chainAffine(map, shiftBy(p, q));
    else if (name === 'scale') map = chainAffine(map, scaleBy(p, v.length > 1 ? q : p));
    else if (name === 'rotate') map = [shiftBy(q, r), turnBy(radFromDeg(p)), shiftBy(-q, -r)].reduce(chainAffine, map);
    else if (name === 'skewX') map = chainAffine(map, [1, 0, Math.tan(radFromDeg(p)), 1, 0, 0]);
    else if (name === 'skewY') map = chainAffine(map, [1, Math.tan(radFromDeg(p)), 0, 1, 0, 0]);
  }
  return map;
}

function pathOfPoints(text: string, isClosed: boolean): string {
  const v = text.split(/[\s,]+/).filter(Boolean);
  const pairs = Array.from({ length: Math.floor(v.length / 2) }, (_, i) => `${v[2 * i]} ${v[2 * i + 1]}`);
  return pairs.length > 0 ? `M${pairs.join('L')}${isClosed ? 'Z' : ''}` : '';
}

function pathOfRect(a: Readonly<Record<string, string>>): string {
  const [x, y, w, h] = [numberIn(a.x), numberIn(a.y), numberIn(a.width), numberIn(a.height)];
  if (!(w > 0 && h > 0)) return '';
  const rx = Math.min(w / 2, numberIn(a.rx ?? a.ry));
  const ry = Math.min(h / 2, numberIn(a.ry ?? a.rx));
  if (!(rx > 0 && ry > 0)) return `M${x} ${y}h${w}v${h}h${-w}Z`;
  const arc = (dx: number, dy: number) => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`;
  return `M${x + rx} ${y}h${w - 2 * rx}${arc(rx, ry)}v${h - 2 * ry}${arc(-rx, ry)}h${2 * rx - w}${arc(-rx, -ry)}v${2 * ry - h}${arc(rx, -ry)}Z`;
}

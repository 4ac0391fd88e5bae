import { type DxfEntity, type DxfFile, type DxfLayer, parseString } from 'dxf';
import { done, failed, type Issue, issue, type Result } from '#core/issues';
import { radFromDeg } from '#core/math';
import type { FlatPoint } from '#core/outline';
import { MM_PER_INCH } from '#core/units';
import { type Affine, chainAffine, mapPoint, scaleBy, shiftBy, turnBy } from './affine.ts';
import { checkDxf } from './check-dxf.ts';
import { pointsOfSpline, type Spline, splineFault } from './curves.ts';
import type { Drawing, DrawingLayer } from './drawing.ts';
import { CURVE_SAG, type Pen, PieceSink } from './piece-sink.ts';

/** $INSUNITS of the DXF reference: a name, and mm. */
const UNITS: Readonly<Record<number, readonly [Drawing['unit'], number]>> = {
  1: ['inch', MM_PER_INCH],
  2: ['foot', 12 * MM_PER_INCH],
  4: ['mm', 1],
  5: ['cm', 10],
  6: ['m', 1000],
};

// Lines, arcs and chords of curves that a drawing may have when its blocks are exploded.
const MOST_PIECES = 2_000_000;
// Blocks in blocks in blocks.
const DEEPEST = 32;

const CENTRE_LINE = /cent|mitte|achse|axis|axe|dash-?dot|chain|strichpunkt/i;

const numberOf = (value: unknown, otherwise: number): number => (typeof value === 'number' && Number.isFinite(value) ? value : otherwise);
const textOf = (value: unknown): string =>
  typeof value === 'string' ? value.trim().replace(/\\U\+([0-9A-Fa-f]{4})/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16))) : '';

/**
 * Reads an ASCII DXF file (R12 to 2018): lines, arcs, circles, polylines with bulges, splines and ellipses, blocks exploded where they stand, as lines and arcs
 * in mm near the origin. `unitScale`: mm of a unit, where it is known better than the file says.
 */
export function readDxf(bytes: Uint8Array, file: string, unitScale?: number): Result<Drawing> {
  const text = checkDxf(bytes, file);
  if (!text.ok) return text;
  let parsed: DxfFile;
  try {
    parsed = parseString(text.value);
  } catch (error) {
    return failed('drawing.unreadable', { file, text: error instanceof Error ? error.message : String(error) });
  }
  const [unit, scale] = UNITS[parsed.header.insUnits ?? 0] ?? (['unknown', 1] as const);
  const reader = new DxfReader(parsed, file, unitScale ?? scale);
  return reader.read(unit);
}

interface Layer {
  readonly name: string;
  readonly isHidden: boolean;
  readonly isCentreLine: boolean;
  entities: number;
  notes: number;
}

class DxfReader {
  private readonly parsed: DxfFile;
  private readonly file: string;
  private readonly scale: number;
  private readonly sink = new PieceSink();
  private readonly layers: Layer[] = [];
  private readonly layerNumbers = new Map<string, number>();
  private readonly blocks = new Map<string, DxfFile['blocks'][number]>();
  private readonly centreLineTypes = new Set<string>();
  private readonly leftOut: Record<string, number> = {};
  private readonly warnings = new Map<string, Issue>();
  private entity = 0;
  private isTooMuch = false;
  private origin: FlatPoint | undefined;

  constructor(parsed: DxfFile, file: string, scale: number) {
    this.parsed = parsed;
    this.file = file;
    this.scale = scale;
    for (const block of parsed.blocks) this.blocks.set(textOf(block.name).toLowerCase(), block);
    for (const type of Object.values(parsed.tables.ltypes ?? {})) {
      // A long dash, a gap, a short one or a dot, a gap.
      const lengths = (type.pattern ?? []).map((e) => numberOf(e.length, 0));
      const dashes = lengths.filter((l) => l >= 0);
      const isMixed = lengths.length >= 4 && Math.max(...dashes) > 2 * Math.min(...dashes);
      const name = textOf(type.name);
      if (isMixed || CENTRE_LINE.test(name)) this.centreLineTypes.add(name.toLowerCase());
    }
    for (const layer of Object.values(parsed.tables.layers ?? {})) this.addLayer(textOf(layer.name) || '0', layer);
  }

  read(unit: Drawing['unit']): Result<Drawing> {
    const inModel = this.parsed.entities.filter((e) => e.paperSpace !== 1);
    // A sheet that holds everything in paper space.
    const entities = inModel.length > 0 ? inModel : this.parsed.entities;
    if (entities.length < this.parsed.entities.length) this.leave('on a layout', this.parsed.entities.length - entities.length);
    this.origin = this.findOrigin(entities);
    const { origin, scale } = this;
    const map = chainAffine(shiftBy(-origin[0], -origin[1]), scaleBy(scale));
    for (const e of entities) {
      this.put(e, map, undefined, []);
      if (this.isTooMuch || this.sink.drawn.length > MOST_PIECES)
        return failed('drawing.too-many', { file: this.file, count: `more than ${MOST_PIECES.toLocaleString('en')} lines and arcs` });
    }
    const { drawn } = this.sink;
    if (drawn.length === 0) return failed('drawing.nothing-drawn', { file: this.file, found: this.sayFound() });
    const layers = this.layers.map(({ name, isHidden, entities: n, notes }): DrawingLayer => ({ name, isHidden, entities: n, notes }));
    return done({
      format: 'dxf',
      unit,
      unitScale: scale,
      origin,
      isUpsideDown: false,
      layers,
      drawn,
      leftOut: this.leftOut,
      warnings: [...this.warnings.values()],
    });
  }

  private sayFound(): string {
    const found = Object.entries(this.leftOut).map(([what, count]) => `${count} ${what}`);
    return found.length > 0 ? found.join(', ') : 'no entity';
  }

  // Drawings that are far out lose digits: they are moved before anything else. Where that is, is told by the first entity that has a place.
  private findOrigin(entities: readonly DxfEntity[]): FlatPoint {
    const place = (e: DxfEntity): FlatPoint | undefined => {
      const [first] = [e.start, (e.vertices as unknown[] | undefined)?.[0], (e.controlPoints as unknown[] | undefined)?.[0], e].filter(
        (p): p is { x: number; y: number } => typeof p === 'object' && p !== null && 'x' in p && 'y' in p,
      );
      return first && Number.isFinite(first.x) && Number.isFinite(first.y) ? [first.x * this.scale, first.y * this.scale] : undefined;
    };
    for (const e of entities) {
      const at = place(e);
      // Near enough: nothing is lost, and numbers stay those of the file.
      if (at) return Math.hypot(at[0], at[1]) < FAR_OUT ? [0, 0] : [Math.round(at[0]), Math.round(at[1])];
    }
    return [0, 0];
  }

  private put(e: DxfEntity, map: Affine, insertLayer: number | undefined, within: readonly string[]): void {
    const own = this.layerOf(textOf(e.layer) || '0');
    // What is on layer 0 in a block is on the layer that the block stands on.
    const layer = insertLayer !== undefined && this.layers[own].name === '0' ? insertLayer : own;
    if (e.visible === false) return this.leave('hidden');
    const lineType = textOf(e.lineTypeName).toLowerCase();
    const isOwnType = lineType !== '' && lineType !== 'bylayer' && lineType !== 'byblock';
    const isCentreLine = isOwnType ? this.centreLineTypes.has(lineType) || CENTRE_LINE.test(lineType) : this.layers[layer].isCentreLine;
    const pen: Pen = { layer, entity: this.entity, isCentreLine };
    const before = this.sink.drawn.length;
    const normal = [numberOf(e.extrusionX, 0), numberOf(e.extrusionY, 0), numberOf(e.extrusionZ, 1)];
    if (Math.abs(normal[2]) < 0.999 * Math.hypot(normal[0], normal[1], normal[2])) return this.leave('not in the plane of the drawing');
    // Seen from behind: its own coordinates run the other way.
    const inPlane = normal[2] < 0 ? chainAffine(map, scaleBy(-1, 1)) : map;
    switch (e.type) {
      case 'LINE':
        this.sink.line(pointOf(e.start), pointOf(e.end), map, pen);
        break;
      case 'ARC': {
        const [start, end] = [numberOf(e.startAngle, 0), numberOf(e.endAngle, 0)];
        this.sink.arc(pointOf(e), numberOf(e.r, 0), start, afterStart(start, end), inPlane, pen);
        break;
      }
      case 'CIRCLE':
        this.sink.arc(pointOf(e), numberOf(e.r, 0), 0, 2 * Math.PI, inPlane, pen);
        break;
      case 'LWPOLYLINE':
      case 'POLYLINE':
        if (e.polygonMesh === true || e.polyfaceMesh === true) return this.leave('meshes');
        this.polyline(e, inPlane, pen);
        break;
      case 'SPLINE':
        this.spline(e, map, pen);
        break;
      case 'ELLIPSE': {
        const major: FlatPoint = [numberOf(e.majorX, 0), numberOf(e.majorY, 0)];
        const ratio = numberOf(e.axisRatio, 1) * Math.sign(normal[2]);
        const [start, end] = [numberOf(e.startAngle, 0), numberOf(e.endAngle, 2 * Math.PI)];
        this.sink.ellipse(pointOf(e), major, [-major[1] * ratio, major[0] * ratio], start, afterStart(start, end), map, pen);
        break;
      }
      case 'INSERT':
        return this.insert(e, inPlane, layer, within);
      case 'ATTDEF':
      case 'ATTRIB':
      case 'TEXT':
      case 'MTEXT':
      case 'DIMENSION':
      case 'LEADER':
      case 'HATCH':
        this.layers[layer].notes++;
        return this.leave(NOTES[e.type]);
      default:
        return this.leave(e.type.toLowerCase());
    }
    if (this.sink.drawn.length === before) return;
    this.layers[layer].entities++;
    this.entity++;
  }

  private polyline(e: DxfEntity, map: Affine, pen: Pen): void {
    const vertices = (e.vertices as readonly { bulge?: number }[]).map((v) => ({ at: pointOf(v), bulge: numberOf(v.bulge, 0) }));
    const last = e.closed === true ? vertices.length : vertices.length - 1;
    for (let i = 0; i < last; i++) {
      const [a, b] = [vertices[i], vertices[(i + 1) % vertices.length]];
      this.sink.bulge(a.at, b.at, a.bulge, map, pen);
    }
  }

  private spline(e: DxfEntity, map: Affine, pen: Pen): void {
    const weights = e.weights as number[] | undefined;
    const spline: Spline = {
      degree: numberOf(e.degree, 3),
      knots: (e.knots as number[] | undefined) ?? [],
      points: ((e.controlPoints as unknown[] | undefined) ?? []).map((p) => mapPoint(map, pointOf(p))),
      ...(weights ? { weights } : {}),
    };
    const fault = splineFault(spline);
    if (fault) this.warn(issue('drawing.bad-entity', { file: this.file, text: fault }));
    else this.sink.curve(pointsOfSpline(spline, CURVE_SAG), pen);
  }

  private insert(e: DxfEntity, map: Affine, layer: number, within: readonly string[]): void {
    const name = textOf(e.block).toLowerCase();
    const block = this.blocks.get(name);
    if (!block) return this.warn(issue('drawing.missing-block', { file: this.file, block: textOf(e.block) }));
    if (within.includes(name) || within.length > DEEPEST) return this.warn(issue('drawing.block-in-itself', { file: this.file, block: textOf(e.block) }));
    const [sx, sy] = [numberOf(e.scaleX, 1), numberOf(e.scaleY, 1)];
    const turn = turnBy(radFromDeg(numberOf(e.rotation, 0)));
    const [columns, rows] = [Math.max(1, numberOf(e.columnCount, 1)), Math.max(1, numberOf(e.rowCount, 1))];
    // Nothing is drawn of what would be too much.
    if (columns * rows * Math.max(1, block.entities?.length ?? 0) > MOST_PIECES) {
      this.isTooMuch = true;
      return;
    }
    for (let c = 0; c < columns; c++)
      for (let r = 0; r < rows; r++) {
        const step = shiftBy(c * numberOf(e.columnSpacing, 0), r * numberOf(e.rowSpacing, 0));
        const place = [shiftBy(...pointOf(e)), turn, step, scaleBy(sx, sy), shiftBy(-numberOf(block.x, 0), -numberOf(block.y, 0))].reduce(chainAffine, map);
        for (const inner of block.entities ?? []) {
          if (this.sink.drawn.length > MOST_PIECES) return;
          this.put(inner, place, layer, [...within, name]);
        }
      }
  }

  private layerOf(name: string): number {
    return this.layerNumbers.get(name.toLowerCase()) ?? this.addLayer(name, {});
  }

  private addLayer(name: string, { flags = 0, colorNumber = 7, lineTypeName = '' }: DxfLayer): number {
    const known = this.layerNumbers.get(name.toLowerCase());
    if (known !== undefined) return known;
    const type = textOf(lineTypeName).toLowerCase();
    const isCentreLine = this.centreLineTypes.has(type) || CENTRE_LINE.test(type) || CENTRE_LINE.test(name);
    // Frozen, or a colour with a minus: off.
    this.layers.push({ name, isHidden: (flags & 1) === 1 || colorNumber < 0, isCentreLine, entities: 0, notes: 0 });
    this.layerNumbers.set(name.toLowerCase(), this.layers.length - 1);
    return this.layers.length - 1;
  }

  private leave(what: string, count = 1): void {
    this.leftOut[what] = (this.leftOut[what] ?? 0) + count;
  }

  // Each once: a block may be missing a thousand times.
  private warn(w: Issue): void {
    this.warnings.set(JSON.stringify(w), w);
  }
}

// mm.
const FAR_OUT = 1e5;

const NOTES: Readonly<Record<string, string>> = {
  ATTDEF: 'texts',
  ATTRIB: 'texts',
  TEXT: 'texts',
  MTEXT: 'texts',
  DIMENSION: 'dimensions',
  LEADER: 'dimensions',
  HATCH: 'hatches',
};

const pointOf = (p: unknown): FlatPoint => {
  const { x, y } = p as { x?: unknown; y?: unknown };
  return [numberOf(x, 0), numberOf(y, 0)];
};

// The same angle, less than a turn on.
const afterStart = (start: number, end: number): number => end + 2 * Math.PI * Math.ceil((start + 1e-12 - end) / (2 * Math.PI));

// Draws a shape as drawing offices do, no two alike: half or full, in any pose and unit, on layers, in blocks, with what else is on a sheet; and what it is in truth.
import type { Random } from '../corpus/random.ts';
import type { Place, Shape } from './drawn-shapes.ts';
import * as dxf from './dxf-text.ts';

export interface DrawingTruth extends Shape {
  readonly file: string;
  readonly unit: 'mm' | 'inch' | 'unknown';
  /** mm of one unit of the file. */
  readonly unitScale: number;
  /** In the file's own coordinates. */
  readonly tip?: Place;
  /** Of a flat shape: turned and mirrored as it is drawn, in mm with y upwards; where it stands is left out. */
  readonly drawn?: readonly Stretch[];
  readonly ways: readonly string[];
}

export interface Stretch {
  readonly from: Place;
  readonly to: Place;
  readonly centre?: Place;
  readonly ccw?: boolean;
}

const stretchesOf = (shape: Pick<Shape, 'start' | 'sides'>): Stretch[] =>
  shape.sides.map((s, i) => ({ from: i === 0 ? shape.start : shape.sides[i - 1].to, ...s }));

const mirrored = (s: Stretch): Stretch => {
  const flip = ([x, y]: Place): Place => [x, -y];
  return { from: flip(s.from), to: flip(s.to), ...(s.centre ? { centre: flip(s.centre), ccw: !s.ccw } : {}) };
};
const backwards = (s: Stretch): Stretch => ({ from: s.to, to: s.from, ...(s.centre ? { centre: s.centre, ccw: !s.ccw } : {}) });

// Where a shape stands in the file, and how large.
interface Pose {
  readonly turn: number;
  readonly at: Place;
  readonly scale: number;
  readonly mirror: boolean;
}
const place =
  ({ turn, at, scale, mirror }: Pose) =>
  ([x, y]: Place): Place => {
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const [u, v] = [x * scale, (mirror ? -y : y) * scale];
    return [at[0] + c * u - s * v, at[1] + s * u + c * v];
  };
const moved = (s: Stretch, p: Pose): Stretch => {
  const m = place(p);
  return { from: m(s.from), to: m(s.to), ...(s.centre ? { centre: m(s.centre), ccw: p.mirror ? !s.ccw : s.ccw } : {}) };
};

const truthOf = (shape: Shape, file: string, { turn, mirror }: Pick<Pose, 'turn' | 'mirror'>) => ({
  ...shape,
  file,
  ...(shape.form === 'flat' ? { drawn: stretchesOf(shape).map((s) => moved(s, { turn, mirror, at: [0, 0], scale: 1 })) } : {}),
});

const angleOf = (c: Place, p: Place) => Math.atan2(p[1] - c[1], p[0] - c[0]);
const apart = (a: Place, b: Place) => Math.hypot(b[0] - a[0], b[1] - a[1]);

function sweepOf(s: Stretch): number {
  if (!s.centre) return 0;
  let sweep = angleOf(s.centre, s.to) - angleOf(s.centre, s.from);
  if (s.ccw && sweep <= 0) sweep += 2 * Math.PI;
  if (!s.ccw && sweep >= 0) sweep -= 2 * Math.PI;
  return sweep;
}

type Style = 'entities' | 'lwpolyline' | 'polyline' | 'splines' | 'ellipses';

function drawWay(way: readonly Stretch[], style: Style, isClosed: boolean, on: dxf.On, r: Random): string {
  if (style === 'lwpolyline' || style === 'polyline') {
    const points = way.map((s): [number, number, number] => [s.from[0], s.from[1], Math.tan(sweepOf(s) / 4)]);
    if (!isClosed) points.push([...way[way.length - 1].to, 0]);
    return (style === 'lwpolyline' ? dxf.lwPolyline : dxf.polyline)(points, isClosed, on);
  }
  const drawn = way.map((s) => drawStretch(r.chance(0.5) ? s : backwards(s), style, on));
  // In the order that somebody drew them.
  for (let i = drawn.length - 1; i > 0; i--) {
    const k = r.whole(0, i);
    [drawn[i], drawn[k]] = [drawn[k], drawn[i]];
  }
  return drawn.join('');
}

// Each arc as the short lines that some programs leave of it.
function facets(s: Stretch): Stretch[] {
  if (!s.centre) return [s];
  const centre = s.centre;
  const [radius, start, sweep] = [apart(centre, s.from), angleOf(centre, s.from), sweepOf(s)];
  const n = Math.max(4, Math.ceil(Math.abs(sweep) / (2 * Math.acos(1 - 0.002 / Math.max(radius, 0.002)))));
  const at = (k: number): Place => [centre[0] + radius * Math.cos(start + (sweep * k) / n), centre[1] + radius * Math.sin(start + (sweep * k) / n)];
  const places = Array.from({ length: n + 1 }, (_, k) => (k === 0 ? s.from : k === n ? s.to : at(k)));
  return places.slice(1).map((to, k) => ({ from: places[k], to }));
}

// Lines that go on beyond their corners, as before somebody trims them.
const overshot = (s: Stretch, by: number): Stretch => (s.centre ? s : part(s, -by / apart(s.from, s.to), 1 + by / apart(s.from, s.to)));

// As programs that write few digits leave places.
const rounded = (s: Stretch, digits: number): Stretch => {
  const tidy = (q: Place): Place => [Number(q[0].toFixed(digits)), Number(q[1].toFixed(digits))];
  return { ...s, from: tidy(s.from), to: tidy(s.to), ...(s.centre ? { centre: tidy(s.centre) } : {}) };
};

function drawStretch(s: Stretch, style: Style, on: dxf.On): string {
  if (!s.centre) return dxf.line(s.from, s.to, on);
  const radius = apart(s.centre, s.from);
  const sweep = sweepOf(s);
  if (style === 'splines' && Math.abs(sweep) < 2) {
    // A conic through the crossing of its end tangents is the arc itself.
    const [a, half] = [angleOf(s.centre, s.from) + sweep / 2, Math.abs(sweep) / 2];
    const far = radius / Math.cos(half);
    return dxf.spline([s.from, [s.centre[0] + far * Math.cos(a), s.centre[1] + far * Math.sin(a)], s.to], [1, Math.cos(half), 1], on);
  }
  const [start, end] = sweep > 0 ? [angleOf(s.centre, s.from), angleOf(s.centre, s.to)] : [angleOf(s.centre, s.to), angleOf(s.centre, s.from)];
  if (style === 'ellipses') return dxf.ellipse(s.centre, [radius, 0], 1, start, end < start ? end + 2 * Math.PI : end, on);
  // Seen from behind: x runs the other way.
  if (Math.round(radius * 1000) % 3 === 0) return dxf.arc([-s.centre[0], s.centre[1]], radius, Math.PI - end, Math.PI - start, on, true);
  return dxf.arc(s.centre, radius, start, end, on);
}

/** A drawing of a shape as a DXF file. */
export function drawDxf(shape: Shape, file: string, inch: boolean, r: Random, isWild = false): { readonly text: string; readonly truth: DrawingTruth } {
  const ways: string[] = [];
  const way = (name: string, chance: number): boolean => {
    const is = r.chance(chance);
    if (is) ways.push(name);
    return is;
  };
  const mm = inch ? 25.4 : 1;
  const units = way('no unit', 0.35) ? r.pick([undefined, 0]) : inch ? 1 : 4;
  const pose: Pose = {
    turn: (r.pick([0, 0, 90, 180, 270, r.round(-180, 180)]) * Math.PI) / 180,
    at: way('far out', 0.1) ? [r.round(2e5, 9e5), r.round(2e5, 9e5)] : [r.round(-300, 300) / mm, r.round(-300, 300) / mm],
    scale: 1 / mm,
    mirror: r.chance(0.3),
  };
  const isOneLayer = isWild && way('one layer', 0.4);
  const outline = isOneLayer ? '0' : r.pick(['0', 'CONTOUR', 'Kontur', 'Layer1', 'GEOMETRY']);
  const on: dxf.On = { layer: outline };
  const layers: { name: string; lineType?: string; isOff?: boolean; isFrozen?: boolean }[] = [{ name: outline }];
  const blocks: { name: string; base: Place; entities: string }[] = [];
  const style = r.pick<Style>(['entities', 'entities', 'entities', 'lwpolyline', 'polyline', 'splines', 'ellipses']);
  ways.push(style);
  let entities = '';
  const digits = isWild && style === 'entities' && way('few digits', 0.3) ? (inch ? 4 : 3) : 12;
  const isFaceted = isWild && way('facets', 0.25);
  const isOvershot = isWild && style === 'entities' && !isFaceted && way('overshot', 0.25);
  const drawIt = (list: readonly Stretch[], isClosed: boolean) =>
    drawWay(
      list.map((s) => rounded(moved(s, pose), digits)),
      style,
      isClosed,
      on,
      r,
    );
  const isTube = shape.kind === 'sleeve';
  const upper = isFaceted ? stretchesOf(shape).flatMap(facets) : stretchesOf(shape);
  const m = place(pose);
  const whole = Math.max(...upper.flatMap((s) => [s.from[0], s.to[0]]));
  const across = Math.max(...upper.flatMap((s) => [s.from[1], s.to[1]]));
  let far = Math.max(...upper.flatMap((s) => [s.from[0], s.to[0]]));
  const low = Math.min(...upper.map((s) => s.from[0]));
  if (shape.form === 'flat') entities += drawIt(upper, true);
  else {
    const half = isTube ? r.pick(['full', 'half']) : r.pick(['full', 'full', 'full', 'half', 'half open', 'full by block']);
    ways.push(half);
    const lower = [...upper].reverse().map((s) => backwards(mirrored(s)));
    const axisLine: Stretch = { from: [whole, 0], to: [low, 0] };
    if (half === 'full') {
      let drawn = [...upper, ...lower];
      if (style === 'entities' && way('gaps', 0.3))
        drawn = drawn.map((s) => (!s.centre && apart(s.from, s.to) > 1 && r.chance(0.15) ? shortened(s, r.round(0.02, 0.1)) : s));
      if (isOvershot) drawn = drawn.map((s) => (r.chance(0.5) ? overshot(s, r.round(0.2, 1.5)) : s));
      entities += isTube ? drawIt(upper, true) + drawIt(lower, true) : drawIt(drawn, true);
    } else if (half === 'full by block') {
      blocks.push({ name: 'HALF', base: [0, 0], entities: drawWay(upper, style, false, { layer: '0' }, r) });
      const isNested = way('nested block', 0.5);
      if (isNested)
        blocks.push({
          name: 'TOOL',
          base: [0, 0],
          entities: ['1', '-1'].map((s) => dxf.insert('HALF', { at: [0, 0], scale: [1, Number(s)], deg: 0 }, { layer: '0' })).join(''),
        });
      const names = isNested ? ['TOOL'] : ['HALF', 'HALF'];
      entities += names
        .map((name, i) =>
          dxf.insert(
            name,
            { at: pose.at, scale: [pose.scale, (i === 0 ? 1 : -1) * (pose.mirror ? -1 : 1) * pose.scale], deg: (pose.turn * 180) / Math.PI },
            on,
          ),
        )
        .join('');
    } else {
      const closed = half === 'half' && !isTube ? [...upper, axisLine] : upper;
      entities += drawIt(closed, half === 'half');
    }
    if (isTube || (half !== 'half open' ? way('centre line', 0.7) : way('centre line', 0.5))) {
      // By its layer, or by the line type of the entity alone.
      const centre: dxf.On = isOneLayer ? { layer: outline, lineType: r.pick(['CENTER', 'DASHDOT']) } : { layer: 'CENTERLINE' };
      if (!isOneLayer) layers.push({ name: 'CENTERLINE', lineType: 'CENTER' });
      entities += dxf.line(m([low - 4, 0]), m([whole + 4, 0]), centre);
    }
    if (half.startsWith('full') && way('inner lines', 0.5))
      for (const s of upper.slice(1, -1)) if (r.chance(0.7) && s.from[1] > 0.01) entities += dxf.line(m(s.from), m([s.from[0], -s.from[1]]), on);
    if (way('end view', 0.2)) {
      far = whole + 4 * across + 10;
      for (const d of [across, across * 0.6]) entities += dxf.circle(m([whole + 3 * across + 10, 0]), d * pose.scale, on);
    }
  }
  if (way('doubles', 0.25))
    for (const s of upper) if (!s.centre && r.chance(0.4)) entities += dxf.line(...ends(moved(r.chance(0.5) ? s : part(s, 0.2, 0.7), pose)), on);
  const box = [m([low, across]), m([far, -across]), m([low, -across]), m([far, across])];
  const [x0, x1] = [Math.min(...box.map((p) => p[0])), Math.max(...box.map((p) => p[0]))];
  const [y0, y1] = [Math.min(...box.map((p) => p[1])), Math.max(...box.map((p) => p[1]))];
  const size = (x1 - x0 + y1 - y0) / 2;
  if (way('frame', 0.4)) {
    layers.push({ name: r.pick(['FRAME', 'Rahmen', 'BORDER', 'SHEET1']) });
    const layer = r.chance(0.5) ? layers[layers.length - 1].name : outline;
    for (const by of [size, 1.1 * size])
      entities += dxf.lwPolyline(
        [
          [x0 - by, y0 - by, 0],
          [x1 + 2 * by, y0 - by, 0],
          [x1 + 2 * by, y1 + by, 0],
          [x0 - by, y1 + by, 0],
        ],
        true,
        { layer },
      );
    const [tx, ty] = [x1 + size, y0 - size];
    for (const k of [0.1, 0.2, 0.3]) entities += dxf.line([tx, ty + k * size], [x1 + 2 * size, ty + k * size], { layer });
    entities += dxf.line([tx, ty], [tx, ty + 0.3 * size], { layer });
    entities += dxf.note([tx + 0.05 * size, ty + 0.05 * size], 0.05 * size, 'TOOL', { layer });
  }
  if (way('dimensions', 0.5)) {
    if (!isOneLayer) layers.push({ name: r.pick(['DIM', 'Bemassung', 'DIMENSIONS']) });
    const layer = isOneLayer ? outline : layers[layers.length - 1].name;
    const up = across + 8;
    entities += dxf.dimension(m([low, across]), m([whole, up]), { layer });
    // Exploded: touching the outline.
    if (r.chance(0.5)) {
      for (const z of [low, whole]) entities += dxf.line(m([z, 0]), m([z, up]), { layer });
      entities += dxf.line(m([low, up - 1]), m([whole, up - 1]), { layer });
    }
    entities += dxf.note(m([whole / 2, up]), 2 / mm, String(whole), { layer });
  }
  if (way('hatch', 0.25)) {
    const layer = isOneLayer ? outline : 'HATCH';
    if (!isOneLayer) layers.push({ name: layer });
    entities += dxf.hatch(m([whole / 2, 0]), { layer });
    for (let i = 1; i < 12; i++) entities += dxf.line(m([(whole * i) / 12, 0]), m([(whole * i) / 12 + across * 0.2, across * 0.2]), { layer });
  }
  if (way('hidden layer', 0.25)) {
    layers.push({ name: 'OLD', ...(r.chance(0.5) ? { isOff: true } : { isFrozen: true }) });
    entities += dxf.lwPolyline(
      [
        [x0 - 1, y0 - 1, 0],
        [x1 + 1, y0 - 1, 0],
        [x1 + 1, y1 + 2, 0],
        [x0 - 1, y1 + 3, 0],
      ],
      true,
      { layer: 'OLD' },
    );
  }
  const text = dxf.dxfFile({ ...(units === undefined ? {} : { units }), layers, blocks, entities });
  const unit = units ? (inch ? 'inch' : 'mm') : 'unknown';
  return { text, truth: { ...truthOf(shape, file, pose), unit, unitScale: mm, ...(shape.form === 'revolved' ? { tip: m([low, 0]) } : {}), ways } };
}

const ends = (s: Stretch): [Place, Place] => [s.from, s.to];
const part = (s: Stretch, a: number, b: number): Stretch => {
  const at = (t: number): Place => [s.from[0] + t * (s.to[0] - s.from[0]), s.from[1] + t * (s.to[1] - s.from[1])];
  return { from: at(a), to: at(b) };
};
const shortened = (s: Stretch, by: number): Stretch => part(s, 0, 1 - by / apart(s.from, s.to));

/** A drawing of a shape as an SVG file: paths with arcs, groups with transforms, a `use` of the mirrored half. */
export function drawSvg(shape: Shape, file: string, r: Random): { readonly text: string; readonly truth: DrawingTruth } {
  const ways: string[] = [];
  const unit = r.pick(['mm', 'mm', 'in', 'px']);
  ways.push(unit);
  const mm = unit === 'mm' ? 1 : unit === 'in' ? 25.4 : 25.4 / 96;
  const turn = r.pick([0, 90, 180, r.round(-90, 90)]);
  const [tx, ty] = [r.round(60, 120), r.round(60, 120)];
  const stretches = stretchesOf(shape);
  const pathOf = (list: readonly Stretch[], close: boolean) =>
    list.reduce((d, s) => {
      if (!s.centre) return `${d} L ${s.to[0]} ${s.to[1]}`;
      const radius = apart(s.centre, s.from);
      const sweep = sweepOf(s);
      return `${d} A ${radius} ${radius} 0 ${Math.abs(sweep) > Math.PI ? 1 : 0} ${sweep > 0 ? 1 : 0} ${s.to[0]} ${s.to[1]}`;
    }, `M ${list[0].from[0]} ${list[0].from[1]}`) + (close ? ' Z' : '');
  // Inside: mm, y upwards; outside: the file's unit, y downwards.
  const isFlat = shape.form === 'flat';
  const how = isFlat ? 'closed' : r.pick(['one path', 'use', 'half']);
  ways.push(how);
  let inner: string;
  if (isFlat) inner = `<path id="outline" fill="none" stroke="black" d="${pathOf(stretches, true)}"/>`;
  else if (how === 'use') inner = `<path id="half" fill="none" stroke="#000" d="${pathOf(stretches, false)}"/><use href="#half" transform="scale(1 -1)"/>`;
  else if (how === 'half') inner = `<path fill="none" stroke="#000" d="${pathOf(stretches, true)}"/>`;
  else inner = `<path fill="none" stroke="#000" d="${pathOf([...stretches, ...[...stretches].reverse().map((s) => backwards(mirrored(s)))], true)}"/>`;
  const whole = Math.max(...stretches.flatMap((s) => [s.from[0], s.to[0]]));
  if (!isFlat && r.chance(0.5)) {
    ways.push('centre line');
    inner += `<line id="centre-line" x1="-4" y1="0" x2="${whole + 4}" y2="0" stroke="#00f" stroke-dasharray="8 2 2 2"/>`;
  }
  if (r.chance(0.5)) {
    ways.push('text');
    inner += `<text x="5" y="20">tool</text><g style="display:none"><rect x="-9" y="-9" width="99" height="30"/></g>`;
  }
  const k = 1 / mm;
  const box = 300 / mm;
  const size = unit === 'px' ? '' : ` width="300mm" height="300mm"`.replaceAll('300mm', unit === 'mm' ? '300mm' : `${300 / 25.4}in`);
  const text = `<?xml version="1.0"?>\n<svg xmlns="http://www.w3.org/2000/svg"${size} viewBox="0 0 ${box} ${box}"><g id="tool" transform="translate(${tx * k} ${ty * k}) rotate(${-turn}) scale(${k} ${-k})">${inner}</g></svg>\n`;
  const rad = (turn * Math.PI) / 180;
  const tip: Place = [tx * k + shape.start[0] * k * Math.cos(rad), ty * k - shape.start[0] * k * Math.sin(rad)];
  const said = unit === 'px' ? 'unknown' : unit === 'in' ? 'inch' : 'mm';
  return { text, truth: { ...truthOf(shape, file, { turn: rad, mirror: false }), unit: said, unitScale: mm, ...(isFlat ? {} : { tip }), ways } };
}

// A drawing of 50,000 entities: hatch lines, and a shaft among them; and a picture of 2000 x 1500.
import { readDrawing, readDxf, readTraced, traceEdge } from '#core/drawing';
import { Random } from '../demo/corpus/random.ts';
import { formCutter } from '../demo/drawings/drawn-shapes.ts';
import { paint } from '../demo/drawings/paint.ts';
import { type BenchRow, medianMs } from './measure.ts';

function largeDrawing(count: number): Uint8Array {
  const lines: string[] = ['0', 'SECTION', '2', 'ENTITIES'];
  const line = (layer: string, x0: number, y0: number, x1: number, y1: number) =>
    lines.push('0', 'LINE', '8', layer, '10', `${x0}`, '20', `${y0}`, '11', `${x1}`, '21', `${y1}`);
  const radius = (i: number) => 10 + (i % 7) * 0.5 + (i % 3);
  // A half section of many steps, closed along its axis.
  const steps = count / 10;
  line('0', 0, 0, 0, radius(0));
  for (let i = 0; i < steps; i++) {
    line('0', i, radius(i), i + 1, radius(i));
    if (i + 1 < steps) line('0', i + 1, radius(i), i + 1, radius(i + 1));
  }
  line('0', steps, radius(steps - 1), steps, 0);
  line('0', steps, 0, 0, 0);
  // Hatching in it, each line by itself.
  while (lines.length / 12 < count) {
    const x = (lines.length * 0.37) % (steps - 2);
    line('0', x, 2, x + 0.3, 4);
  }
  lines.push('0', 'ENDSEC', '0', 'EOF', '');
  return new TextEncoder().encode(lines.join('\n'));
}

export async function benchDrawing(): Promise<BenchRow[]> {
  const bytes = largeDrawing(50_000);
  const read = () => {
    const drawing = readDxf(bytes, 'large.dxf');
    if (!drawing.ok) throw new Error(drawing.issues[0].code);
    return drawing.value;
  };
  const drawing = read();
  const outline = readDrawing(drawing, 'large.dxf');
  if (!outline.ok) throw new Error(outline.issues[0].code);
  const r = new Random(1);
  const { width, height, pixels, mmPerPixel } = paint(formCutter(r, false), { width: 2000, height: 1500, turn: 0.5, blur: 1, noise: 4 }, r);
  const picture = { width, height, grey: Float32Array.from(pixels, (v) => v / 255) };
  const edge = traceEdge(picture, 'picture');
  if (!edge.ok) throw new Error(edge.issues[0].code);
  return [
    { what: 'a picture of 2000 x 1500, its edge', value: await medianMs(() => traceEdge(picture, 'picture'), { rounds: 3, warm: 1 }), unit: 'ms', limit: 1000 },
    { what: 'its outline', value: await medianMs(() => readTraced(edge.value, 'picture', mmPerPixel), { rounds: 3, warm: 1 }), unit: 'ms' },
    {
      what: `a DXF of ${drawing.drawn.length.toLocaleString('en')} entities, read`,
      value: await medianMs(read, { rounds: 3, warm: 1 }),
      unit: 'ms',
      limit: 1500,
    },
    { what: 'its outline found', value: await medianMs(() => readDrawing(drawing, 'large.dxf'), { rounds: 3, warm: 0 }), unit: 'ms' },
  ];
}

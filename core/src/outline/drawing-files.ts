// Closed outlines as drawings: DXF for controls and CAD, SVG for documents. 1 unit is 1 mm.
import { Colors, DxfWriter, LWPolylineFlags, point2d, point3d, Units } from '@tarikjabiri/dxf';
import { boxOfPath } from './box.ts';
import { type PathPiece, sweepOfArc } from './path.ts';

/** A named layer of closed outlines. */
export interface DrawingLayer {
  readonly name: string;
  /** #rrggbb, for SVG. */
  readonly colour: string;
  readonly loops: readonly (readonly PathPiece[])[];
}

/** Outlines as a DXF file: one closed LWPOLYLINE a loop, arcs as bulges (the tangent of a quarter of their sweep), in mm. */
export function writeDxf(layers: readonly DrawingLayer[]): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  const colours = [Colors.Red, Colors.Blue, Colors.Green];
  layers.forEach(({ name, loops }, i) => {
    dxf.addLayer(name, colours[i % colours.length], 'Continuous');
    for (const loop of loops) {
      const vertices = loop.map((p) => ({ point: point2d(p.from[0], p.from[1]), bulge: p.kind === 'arc' ? Math.tan(sweepOfArc(p) / 4) : 0 }));
      dxf.addLWPolyline(vertices, { flags: LWPolylineFlags.Closed, layerName: name });
    }
  });
  return dxf.stringify();
}

/** Lines and arcs on a layer of a drawing; a centre line is drawn as one. */
export interface LooseLayer {
  readonly name: string;
  readonly pieces: readonly PathPiece[];
  readonly isCentreLine?: boolean;
}

/** Loose lines and arcs as a DXF file: LINE and ARC, in mm. */
export function writeDrawingDxf(layers: readonly LooseLayer[]): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  if (layers.some((l) => l.isCentreLine)) dxf.addLType('CENTER', 'Center ____ _ ____ _', [12, -2, 2, -2]);
  for (const { name, pieces, isCentreLine } of layers) {
    dxf.addLayer(name, isCentreLine ? Colors.Red : Colors.White, isCentreLine ? 'CENTER' : 'Continuous');
    for (const p of pieces) {
      if (p.kind === 'line') {
        dxf.addLine(point3d(p.from[0], p.from[1]), point3d(p.to[0], p.to[1]), { layerName: name });
        continue;
      }
      // Counter-clockwise from the first angle to the second.
      const [a, b] = p.ccw ? [p.from, p.to] : [p.to, p.from];
      const deg = (q: readonly [number, number]) => (Math.atan2(q[1] - p.centre[1], q[0] - p.centre[0]) * 180) / Math.PI;
      dxf.addArc(point3d(p.centre[0], p.centre[1]), Math.hypot(a[0] - p.centre[0], a[1] - p.centre[1]), deg(a), deg(b), { layerName: name });
    }
  }
  return dxf.stringify();
}

/** Outlines as an SVG file at true size, y upwards as in the drawing. */
export function writeSvg(layers: readonly DrawingLayer[], title: string): string {
  const [x0, y0, x1, y1] = boxOfPath(layers.flatMap((l) => l.loops.flat()));
  const margin = 2;
  const [w, h] = [x1 - x0 + 2 * margin, y1 - y0 + 2 * margin];
  const n = (v: number) => String(Math.round(v * 1e4) / 1e4);
  const at = ([x, y]: readonly [number, number]) => `${n(x - x0 + margin)} ${n(y1 - y + margin)}`;
  const pathOf = (loop: readonly PathPiece[]): string =>
    loop.reduce(
      (d, p) => {
        if (p.kind === 'line') return `${d}L${at(p.to)}`;
        const r = n(Math.hypot(p.from[0] - p.centre[0], p.from[1] - p.centre[1]));
        return `${d}A${r} ${r} 0 ${Math.abs(sweepOfArc(p)) > Math.PI ? 1 : 0} ${p.ccw ? 0 : 1} ${at(p.to)}`;
      },
      `M${at(loop[0].from)}`,
    );
  const groups = layers.map(
    ({ name, colour, loops }) =>
      `<g id="${escaped(name)}" fill="none" stroke="${colour}" stroke-width="0.2"><path d="${loops.map((l) => `${pathOf(l)}Z`).join('')}"/></g>`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="${n(w)}mm" height="${n(h)}mm" viewBox="0 0 ${n(w)} ${n(h)}"><title>${escaped(title)}</title>
${groups.join('\n')}
</svg>
`;
}

const escaped = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;');

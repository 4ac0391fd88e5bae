// The drawing of a form cutter that grinds the seal groove of a hub shell: whole, with its centre line, hatching, a few notes and a frame.
import { Colors, DxfWriter, LWPolylineFlags, point2d, point3d, Units } from '@tarikjabiri/dxf';

// Half of it in [z, r] from the tip on, mm; of an arc the bulge of the piece that begins there.
const HALF: readonly (readonly [number, number, number?])[] = [
  [0, 0],
  [0, 5.2],
  [0.8, 6, 0],
  [3.2, 6],
  [4.4, 7.2, -0.41421356],
  [5.9, 8.7],
  [9.1, 8.7, -0.41421356],
  [10.6, 7.2],
  [13, 7.2],
  [13, 4.5],
  [19, 4.5],
  [19, 5],
  [58.5, 5],
  [59, 4.5],
  [59, 0],
];
const [X, Y] = [120, 85];

/** The drawing as DXF, in mm. */
export function grooveCutterDrawing(): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  dxf.addLType('CENTER', 'Center ____ _ ____ _', [12, -2, 2, -2]);
  dxf.addLayer('CONTOUR', Colors.White, 'Continuous');
  dxf.addLayer('AXIS', Colors.Red, 'CENTER');
  dxf.addLayer('NOTES', Colors.Green, 'Continuous');
  dxf.addLayer('FRAME', Colors.Blue, 'Continuous');
  // Once round: the upper half from the tip, the lower one back.
  const upper = HALF.map(([z, r, bulge = 0]) => ({ point: point2d(X + z, Y + r), bulge }));
  const lower = HALF.slice(1, -1)
    .map(([z, r], i) => ({ point: point2d(X + z, Y - r), bulge: HALF[i][2] ?? 0 }))
    .reverse();
  dxf.addLWPolyline([...upper, ...lower], { flags: LWPolylineFlags.Closed, layerName: 'CONTOUR' });
  // Where the shank begins, and the edges of the broken corner.
  for (const [z, r] of [
    [19, 5],
    [58.5, 5],
    [13, 7.2],
  ])
    dxf.addLine(point3d(X + z, Y - r), point3d(X + z, Y + r), { layerName: 'CONTOUR' });
  dxf.addLine(point3d(X - 6, Y), point3d(X + 65, Y), { layerName: 'AXIS' });
  dxf.addText(point3d(X + 20, Y + 22), 3.5, 'Seal groove cutter 17.4', { layerName: 'NOTES' });
  dxf.addText(point3d(X + 20, Y + 16), 2.5, 'shank 10 h6, carbide', { layerName: 'NOTES' });
  dxf.addLine(point3d(X, Y + 12), point3d(X + 13, Y + 12), { layerName: 'NOTES' });
  dxf.addLWPolyline(
    [
      [10, 10],
      [287, 10],
      [287, 200],
      [10, 200],
    ].map(([x, y]) => ({ point: point2d(x, y) })),
    { flags: LWPolylineFlags.Closed, layerName: 'FRAME' },
  );
  return dxf.stringify();
}

import { useEffect, useRef } from 'react';
import type { FlatPoint } from '#core/outline';
import type { TurnedBody } from '#core/trial';

interface Props {
  /** What stands at work, each with where its carrier's reference is. */
  readonly bodies: readonly { readonly body: TurnedBody; readonly at: FlatPoint }[];
  /** Of the drawing: pixels for mm, and where its ends are. */
  readonly sx: (z: number) => number;
  readonly sy: (r: number) => number;
  readonly width: number;
  readonly height: number;
}

/** Holders and shanks over the half section as the turning work meets them: each of their places at its radius. */
export function SectionBodies({ bodies, sx, sy, width, height }: Props) {
  const ref = useRef<HTMLCanvasElement>(null);
  const [left, scale, axis] = [sx(0), sx(1) - sx(0), sy(0)];
  useEffect(() => {
    const canvas = ref.current;
    const context = canvas?.getContext('2d');
    if (!canvas || !context) return;
    const density = window.devicePixelRatio;
    canvas.width = Math.round(width * density);
    canvas.height = Math.round(axis * density);
    context.setTransform(density, 0, 0, density, 0, 0);
    const colour = getComputedStyle(canvas).color;
    context.fillStyle = colour;
    // Triangles that lie beside each other leave no seams.
    context.strokeStyle = colour;
    context.lineWidth = 0.7;
    for (const { body, at } of bodies) {
      const { corners, triangles } = body.image(at);
      context.beginPath();
      for (let i = 0; i < triangles.length; i += 3) {
        const [a, b, c] = [2 * triangles[i], 2 * triangles[i + 1], 2 * triangles[i + 2]];
        const [ax, ay] = [left + corners[a] * scale, axis - corners[a + 1] * scale];
        const [bx, by] = [left + corners[b] * scale, axis - corners[b + 1] * scale];
        const [cx, cy] = [left + corners[c] * scale, axis - corners[c + 1] * scale];
        if ((ax < 0 && bx < 0 && cx < 0) || (ax > width && bx > width && cx > width) || (ay < 0 && by < 0 && cy < 0)) continue;
        context.moveTo(ax, ay);
        // All the same way round: of two that lie on each other, one for and one against it would be none.
        const isTurned = (bx - ax) * (cy - ay) < (by - ay) * (cx - ax);
        context.lineTo(isTurned ? cx : bx, isTurned ? cy : by);
        context.lineTo(isTurned ? bx : cx, isTurned ? by : cy);
        context.closePath();
      }
      context.fill();
      context.stroke();
    }
  }, [bodies, left, scale, axis, width]);
  return <canvas ref={ref} className="trial-bodies" style={{ width, height: Math.min(axis, height) }} aria-hidden />;
}

import { boxOfPath, type HalfProfile, type SolidShape } from '#core/outline';
import { pathTo } from '../section/profile-editor.tsx';

const SIDE = 100;

/** A shape as a small drawing: of what is turned both halves, of a plate its top. */
export function ShapePicture({ shape }: { shape: SolidShape }) {
  const isTurned = shape.form === 'revolved';
  const bodies: readonly { role: string; profile: HalfProfile }[] = isTurned ? shape.bodies : [{ role: 'cutting', profile: [shape.loop] }];
  const [x0, low, x1, y1] = boxOfPath(bodies.flatMap((b) => b.profile.flat()));
  const y0 = isTurned ? -y1 : low;
  const scale = SIDE / Math.max(x1 - x0, y1 - y0);
  const at = { sx: (x: number) => (x - x0) * scale, sy: (y: number) => (y1 - y) * scale, scale };
  const d = (of: HalfProfile) => of.map((loop) => `M${at.sx(loop[0].from[0])} ${at.sy(loop[0].from[1])}${loop.map((p) => pathTo(p, at)).join('')}Z`).join('');
  const [w, h] = [(x1 - x0) * scale, (y1 - y0) * scale];
  const halves = isTurned ? ['', `matrix(1 0 0 -1 0 ${2 * at.sy(0)})`] : [''];
  const hole = isTurned ? null : shape.hole;
  return (
    <svg className="outline-picture" viewBox={`${-0.1 * w - 4} ${-0.1 * h - 4} ${1.2 * w + 8} ${1.2 * h + 8}`} aria-hidden>
      {halves.map((transform) => (
        <g key={transform} transform={transform || undefined}>
          {bodies.map((b, i) => (
            <path
              key={i}
              d={d(b.profile)}
              className={`cut ${b.role === 'cutting' ? 'cut-cutting' : 'cut-tool-body'}`}
              vectorEffect="non-scaling-stroke"
              fillRule="evenodd"
            />
          ))}
        </g>
      ))}
      {hole && (
        <circle cx={at.sx(hole.at[0])} cy={at.sy(hole.at[1])} r={(hole.diameter / 2) * scale} className="picture-hole" vectorEffect="non-scaling-stroke" />
      )}
    </svg>
  );
}

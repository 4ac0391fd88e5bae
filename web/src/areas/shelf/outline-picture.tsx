import { boxOfPath, type HalfProfile, stretchOfProfile } from '#core/outline';
import type { OutlineRecord } from '#core/records';
import { cuttingStretch } from '#core/sources';
import { pathTo } from '../../section/profile-editor.tsx';

const SIDE = 100;

/** An outline as a small drawing: of what is turned both halves. */
export function OutlinePicture({ outline }: { outline: OutlineRecord }) {
  const { profile, purpose } = outline;
  if (profile.length === 0) return <span className="picture-wait picture-none">no outline yet</span>;
  const [x0, low, x1, y1] = boxOfPath(profile.flat());
  const y0 = purpose === 'insert' ? low : -y1;
  const scale = SIDE / Math.max(x1 - x0, y1 - y0);
  const at = { sx: (x: number) => (x - x0) * scale, sy: (y: number) => (y1 - y) * scale, scale };
  const d = (of: HalfProfile) => of.map((loop) => `M${at.sx(loop[0].from[0])} ${at.sy(loop[0].from[1])}${loop.map((p) => pathTo(p, at)).join('')}Z`).join('');
  const cuts = purpose === 'insert' ? null : cuttingStretch(outline);
  const cutting = cuts ? stretchOfProfile(profile, cuts.from, cuts.to) : purpose === 'insert' ? profile : [];
  const [w, h] = [(x1 - x0) * scale, (y1 - y0) * scale];
  const halves = purpose === 'insert' ? [''] : ['', `matrix(1 0 0 -1 0 ${2 * at.sy(0)})`];
  return (
    <svg className="outline-picture" viewBox={`${-0.1 * w - 4} ${-0.1 * h - 4} ${1.2 * w + 8} ${1.2 * h + 8}`} aria-hidden>
      {halves.map((transform) => (
        <g key={transform} transform={transform || undefined}>
          <path d={d(profile)} className="cut cut-tool-body" vectorEffect="non-scaling-stroke" fillRule="evenodd" />
          <path d={d(cutting)} className="cut cut-cutting" vectorEffect="non-scaling-stroke" fillRule="evenodd" />
        </g>
      ))}
    </svg>
  );
}

import { move, worldFromFrame } from '#core/math';
import { boxOfPath, type FlatPoint, flattenPath, type HalfProfile, loopThrough, mirrorPiece, type PathPiece, type SolidShape } from '#core/outline';
import { pathTo } from '../section/profile-editor.tsx';

const SIDE = 100;
// mm. Chords of what is seen from above.
const SAG = 0.02;

interface Seen {
  readonly role: string;
  readonly loops: HalfProfile;
}

/** A shape as a small drawing: of what is turned both halves, of a plate its top, of a turning tool its plan with z to the right. */
export function ShapePicture({ shape }: { shape: SolidShape }) {
  const bodies = seenOf(shape);
  const [x0, y0, x1, y1] = boxOfPath(bodies.flatMap((b) => b.loops.flat()));
  const scale = SIDE / Math.max(x1 - x0, y1 - y0);
  const at = { sx: (x: number) => (x - x0) * scale, sy: (y: number) => (y1 - y) * scale, scale };
  const d = (of: HalfProfile) => of.map((loop) => `M${at.sx(loop[0].from[0])} ${at.sy(loop[0].from[1])}${loop.map((p) => pathTo(p, at)).join('')}Z`).join('');
  const [w, h] = [(x1 - x0) * scale, (y1 - y0) * scale];
  const hole = shape.form === 'flat' ? shape.hole : null;
  return (
    <svg className="outline-picture" viewBox={`${-0.1 * w - 4} ${-0.1 * h - 4} ${1.2 * w + 8} ${1.2 * h + 8}`} aria-hidden>
      {bodies.map((b, i) => (
        <path key={i} d={d(b.loops)} className={`cut ${b.role === 'cutting' ? 'cut-cutting' : 'cut-tool-body'}`} vectorEffect="non-scaling-stroke" />
      ))}
      {hole && (
        <circle cx={at.sx(hole.at[0])} cy={at.sy(hole.at[1])} r={(hole.diameter / 2) * scale} className="picture-hole" vectorEffect="non-scaling-stroke" />
      )}
    </svg>
  );
}

const shifted = ([z, x]: FlatPoint, by: FlatPoint): FlatPoint => [z + by[0], x + by[1]];

const movePiece = (piece: PathPiece, by: FlatPoint): PathPiece =>
  piece.kind === 'line'
    ? { ...piece, from: shifted(piece.from, by), to: shifted(piece.to, by) }
    : { ...piece, from: shifted(piece.from, by), to: shifted(piece.to, by), centre: shifted(piece.centre, by) };

const bothHalves = (profile: HalfProfile): PathPiece[][] => [...profile.map((l) => [...l]), ...profile.map((l) => l.map(mirrorPiece))];

function seenOf(shape: SolidShape): Seen[] {
  if (shape.form === 'flat') return [{ role: 'cutting', loops: [shape.loop] }];
  if (shape.form === 'revolved') return shape.bodies.map((b) => ({ role: b.role, loops: bothHalves(b.profile) }));
  return shape.bodies.map(({ role, place, solid }): Seen => {
    const inTool = worldFromFrame(place);
    // What is turned lies along z here, about an axis beside the tool's own where its place says so.
    const [x0, , z0] = place.origin;
    if (solid.kind === 'turned') return { role, loops: bothHalves(solid.profile).map((loop) => loop.map((p) => movePiece(p, [z0, x0]))) };
    const seen = flattenPath(solid.loop, SAG, false).map(([u, v]): FlatPoint => {
      const [x, , z] = move(inTool, [u, v, 0]);
      return [z, x];
    });
    return { role, loops: [loopThrough(seen)] };
  });
}

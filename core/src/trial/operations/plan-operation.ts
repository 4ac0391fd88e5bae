import { done, failed, type Issue, issue, type Result } from '#core/issues';
import { flatDistance, type HalfProfile } from '#core/outline';
import { cuttingOutline, isAboutAxis, isDrivenAcross } from '../cut/cutting-outline.ts';
import { type Polygons, together, toUnits, UNITS, within } from '#core/clipping';
import { Region } from '../region/region.ts';
import { carriersOf, edgeOf, type LoadedEdge, ofCarrier, type TrialSetting } from '../setting.ts';
import { BodyRoom } from '../touch/body-room.ts';
import { watchedBodies } from '../touch/follow.ts';
import { type Obstacle, obstaclesOf } from '../touch/obstacles.ts';
import { type CutJob, type CutSide, cutView, endsOf, viewOf } from '../free/cut-views.ts';
import { deepestOnAxis, drill, thread } from './on-axis.ts';
import type { Operation } from './operation.ts';
import { groove, partOff } from './plunge.ts';
import { type PlannedMove, ToolWay } from './tool-way.ts';
import { face as facing, turn } from './turn.ts';

/** A cut that was planned: the moves of its tool, and what it does. */
export interface PlannedCut {
  readonly loaded: LoadedEdge;
  /** The largest that it cuts on, mm; of a drill its own. */
  readonly diameter: number;
  /** Of the carrier's reference, [z, x] of the part. */
  readonly moves: readonly PlannedMove[];
  /** The work behind it. */
  readonly stock: Region;
  /** What is taken away, mm3, and how far it feeds, mm. */
  readonly removedVolume: number;
  readonly fed: number;
  /** What it could not do, and why. */
  readonly notes: readonly Issue[];
}

/** Plans a cut from the contour of a trial: with the nose as it is, and no cut that the edge cannot make. `stock`: the work as it stands before it. */
export function planOperation(setting: TrialSetting, op: Operation, stock: Region): Result<PlannedCut> {
  const own = ofCarrier(setting, op.carrier);
  const loaded = edgeOf(own, op.tool, op.offset);
  const carriers = carriersOf(own, op.tool);
  if (carriers.length > 1) return failed('operation.whose-tool', { tool: op.tool, carriers: carriers.join(' and ') });
  if (!loaded) return failed('operation.no-tool', { tool: op.tool });
  const { contour } = setting.job;
  if (!contour) return failed('operation.no-contour');
  const { row, edge, carrier } = loaded;
  const outline = cuttingOutline(row, edge, setting.parts, setting.planeFor(carrier));
  const name = edge.own.name;
  if (!outline) return failed(isDrivenAcross(edge) ? 'trial.driven' : 'trial.no-edge', { name });
  const isOnAxis = isAboutAxis(edge);
  if ((op.kind === 'drill') !== isOnAxis) return failed(isOnAxis ? 'operation.drills-only' : 'operation.not-on-axis', { name, text: op.kind });
  const [behind, face] = endsOf(contour);
  const rest = within(stock.polygons, -FAR, behind * UNITS, -FAR, FAR);
  const whole = Region.ofProfile(contour).polygons;
  // What it is cut off from is no part of it.
  const part = op.kind === 'part off' ? whole : together([...whole, ...rest]);
  const obstacles = obstaclesOf(setting);
  const job: CutJob = { contour, part, walls: obstacles.flatMap((o) => o.region.polygons), stock: stock.copy(), outline };
  const walls: readonly Obstacle[] = [{ name: 'part', region: Region.ofPolygons(part) }, ...obstacles];
  const side = sideOf(op);
  const view = viewOf(side, feedOf(op));
  const range = op.kind === 'turn' || op.kind === 'groove' ? { from: op.from, to: op.to, leavesFace: op.side !== 'face' } : {};
  const cut = cutView(job, side, view, range);
  const { rest: bodies } = watchedBodies(loaded, setting, { atPlace: true });
  const room = (also: readonly Obstacle[]) => new BodyRoom(bodies, [...also, ...walls]);
  const way = new ToolWay({ name, z: edge.atWork.Z }, outline, view, job.stock, room([]), room([{ name: 'work', region: job.stock }]));
  // Before the work and over it; from there on the way to the first cut is looked at.
  if (op.kind !== 'drill') way.begin([cut.front, cut.high]);
  switch (op.kind) {
    case 'face':
      facing(way, cut, outline, op, face);
      break;
    case 'turn':
      turn(way, cut, outline, edge.own.noseRadius, op);
      break;
    case 'groove':
      groove(way, cut, outline, op);
      break;
    case 'part off': {
      const at = op.at ?? behind;
      partOff(way, cut, op, at, innerAt(stock, at - EDGE_OF_CUT), edge.own.noseRadius);
      break;
    }
    case 'drill': {
      const x = -edge.atWork.X;
      const front = Math.max(...stock.loops.flat().map((p) => p[0]));
      drill(way, outline, op, x, front, op.depth ?? deepestOnAxis(whole, outline, x, front, behind));
      break;
    }
    case 'thread': {
      const surface = surfaceBetween(contour, op.from, op.to, op.side);
      if (surface === undefined) return failed('operation.no-surface', { from: op.from, to: op.to });
      thread(way, cut, op, op.side === 'inside' ? -surface : surface);
      break;
    }
  }
  if (op.kind !== 'drill') way.leave(side === 'inside' ? { a: cut.front, b: cut.high } : { b: cut.high });
  const fed = way.moves.filter((m) => m.kind !== 'rapid').reduce((s, m) => s + flatDistance(m.path.from, m.path.to), 0);
  if (fed === 0) return { ok: false, issues: [issue('operation.nothing', { name, text: op.kind }), ...way.notes] };
  const diameter = isOnAxis
    ? 2 * Math.max(...outline.points.map((p) => Math.abs(p[1] - edge.atWork.X)))
    : way.moves.filter((m) => m.kind !== 'rapid').reduce((most, m) => Math.max(most, 2 * Math.abs(m.path.to[1] + edge.atWork.X)), 0);
  return done({ loaded, diameter, moves: way.moves, stock: way.stock, removedVolume: stock.volume - way.stock.volume, fed, notes: way.notes });
}

// Units: beyond anything.
const FAR = 2000 * UNITS;
// mm. Beside the end of the part, where the tool that cuts it off is.
const EDGE_OF_CUT = 0.5;

const sideOf = (op: Operation): CutSide => {
  if (op.kind === 'face' || op.kind === 'drill') return 'face';
  return op.kind === 'part off' ? 'outside' : op.side;
};
const feedOf = (op: Operation): 'along' | 'back' | 'plunge' => {
  if (op.kind === 'groove' || op.kind === 'part off' || op.kind === 'drill') return 'plunge';
  return op.kind === 'turn' && op.towards === 'tailstock' ? 'back' : 'along';
};

// The radius of the bore of the work at a place along it.
function innerAt(stock: Region, z: number): number {
  const thin: Polygons = [
    toUnits([
      [z - 0.005, 0],
      [z + 0.005, 0],
      [z + 0.005, 1000],
      [z - 0.005, 1000],
    ]),
  ];
  const rs = stock.commonWith(thin).flatMap((p) => p.map((q) => q[1]));
  return rs.length === 0 ? 0 : Math.min(...rs);
}

// The radius of what is to be threaded: of the contour's cylinder that is the longest there.
function surfaceBetween(contour: HalfProfile, from: number, to: number, side: 'outside' | 'inside'): number | undefined {
  const [low, high] = [Math.min(from, to), Math.max(from, to)];
  const along = contour.flat().flatMap((p) => {
    if (p.kind !== 'line' || Math.abs(p.from[1] - p.to[1]) > 1e-6 || p.from[1] < 1e-6) return [];
    // Material on the left: outside surfaces run against Z.
    if (p.to[0] < p.from[0] !== (side === 'outside')) return [];
    const over = Math.min(high, Math.max(p.from[0], p.to[0])) - Math.max(low, Math.min(p.from[0], p.to[0]));
    return over > 0 ? [{ over, r: p.from[1] }] : [];
  });
  return along.sort((a, b) => b.over - a.over)[0]?.r;
}

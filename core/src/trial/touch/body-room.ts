import type { At } from '../cut/sweep.ts';
import type { Region } from '../region/region.ts';
import type { Watched } from './follow.ts';
import type { Obstacle } from './obstacles.ts';
import type { TurnedBody } from './turned-body.ts';

/** A body of a tool that is in the way, and of what. */
export interface InTheWay {
  readonly body: string;
  readonly wall: string;
}

export const sayInTheWay = ({ body, wall }: InTheWay): string => (wall === 'part' ? body : `${body} at the ${wall}`);

// mm. How far what is no edge must stay from a wall; farther than the others nothing is measured, standing and on a way.
const CLEAR = 0.002;
const FARTHEST = 40;
const ON_THE_WAY = 0.01;
// mm. A way across both axes is divided until it is no longer than that along one of them: so much may its distances be too small.
const DIVIDED_TO = 0.02;

/** Whether a station's tool, but what of it cuts, has room between walls. Walls may lose material, not gain any. */
export class BodyRoom {
  private readonly bodies: readonly { readonly body: TurnedBody; readonly free: Map<Region, { at: At; by: number }> }[];
  private readonly walls: readonly Obstacle[];

  /** `bodies`: all of the tool but what of it cuts. */
  constructor(bodies: readonly Watched[], walls: readonly Obstacle[]) {
    this.bodies = bodies.map(({ body }) => ({ body, free: new Map() }));
    this.walls = walls;
  }

  /** All of the tool but what of it cuts. */
  get all(): readonly TurnedBody[] {
    return this.bodies.map((b) => b.body);
  }

  /** What of the tool is in a wall on a straight way of the reference; undefined where nothing is. */
  inTheWay(from: At, to: At): InTheWay | undefined {
    for (const { body, free } of this.bodies)
      for (const { name, region } of this.walls) {
        let known = free.get(region);
        if (!known || known.by - distance(known.at, from) <= CLEAR) {
          known = { at: from, by: body.distanceTo(region, from, from, FARTHEST) };
          free.set(region, known);
          if (known.by < CLEAR) return { body: body.name, wall: name };
        }
        if (known.by - distance(known.at, to) > CLEAR) continue;
        if (touches(body, region, from, to)) return { body: body.name, wall: name };
      }
    return undefined;
  }
}

const distance = (a: At, b: At): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

function touches(body: TurnedBody, region: Region, from: At, to: At): boolean {
  if (body.distanceTo(region, from, to, ON_THE_WAY) >= CLEAR) return false;
  if (Math.min(Math.abs(to[0] - from[0]), Math.abs(to[1] - from[1])) <= DIVIDED_TO) return true;
  const middle: At = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
  return touches(body, region, from, middle) || touches(body, region, middle, to);
}

import { beforeAll, describe, expect, it } from '@jest/globals';
import { SHIPPED_MACHINES } from '#core/carrier';
import { say } from '#core/issues';
import { type Kernel, loadKernel } from '#core/kernel';
import { reachOverAngles, type ReachOverAngles } from '#core/trial';
import { cookTrial } from './index.ts';

const [, , millTurn] = SHIPPED_MACHINES;
const head = { ...millTurn.carriers[0], connection: { standard: 'square', size: '25x25' } };

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
async function over(points: readonly (readonly [number, number])[]): Promise<ReachOverAngles> {
  const cooked = await cookTrial(
    kernel,
    JSON.stringify({
      setUp: {
        machine: { ...millTurn, carriers: [head] },
        assemblies: [{ key: 'a', words: 'DVJNR 2525 M16' }],
        places: [{ carrier: 'swivel-head', station: 1, assembly: 'a', angle: 20 }],
        blanks: { main: { diameter: 60, bore: 0, length: 90 }, counter: null },
      },
      zero: 88,
      contour: { points },
    }),
    'trial.json',
    () => new Uint8Array(),
    '',
  );
  if (!cooked.ok) throw new Error(cooked.issues.map(say).join());
  const { parts, job } = cooked.value;
  const looking = reachOverAngles(parts, job, parts.setUp.places[0].id, 0);
  let step = looking.next();
  let last = 0;
  for (; !step.done; step = looking.next()) {
    expect(step.value).toBeGreaterThanOrEqual(last);
    expect(step.value).toBeLessThan(1);
    last = step.value;
  }
  return step.value;
}

describe('the reach of an edge over the angles of its head', () => {
  it('a waist between two flanges: the best angle is where both flanks clear, and what stays grows to both sides', async () => {
    // Both flanks rise by 45 degrees: the insert of 35 leaves (180 - 35 - 2 x 45) / 2 on either side in the middle.
    const found = await over([
      [0, 0],
      [0, 28],
      [-10, 28],
      [-24, 14],
      [-30, 14],
      [-44, 28],
      [-54, 28],
      [-54, 0],
    ]);
    const { angles, best } = found;
    expect(angles.length).toBeGreaterThan(8);
    expect(best?.area).toBeLessThan(0.4);
    expect(best?.room).toBeGreaterThan(0);
    // A narrow range: beyond it the flank that looks at the chuck, or the holder at the flange, keeps the edge out, the more the farther it is swung.
    const clear = angles.filter((a) => a.area < 0.3).map((a) => a.angle);
    expect(best?.angle).toBeGreaterThanOrEqual(Math.min(...clear));
    expect(best?.angle).toBeLessThanOrEqual(Math.max(...clear));
    const after = angles.filter((a) => a.angle > Math.max(...clear)).map((a) => a.area);
    expect(after.length).toBeGreaterThan(5);
    after.slice(1).forEach((area, i) => expect(area).toBeGreaterThan(after[i]));
    const before = angles.filter((a) => a.angle < Math.min(...clear)).map((a) => a.area);
    expect(before.length).toBeGreaterThan(0);
    expect(Math.min(...before)).toBeGreaterThan(5);
    expect(angles.every((a) => (a.relief ?? 0) > -12)).toBe(true);
    // As the control calls them: 90 less the head's.
    expect(angles.every((a) => Math.abs((a.control ?? 0) - (90 - a.angle)) < 1e-9)).toBe(true);
  });
  it('a square shoulder towards the chuck asks for relief on it: angles that lean into it leave a wedge', async () => {
    const { angles, best } = await over([
      [0, 0],
      [0, 20],
      [-30, 20],
      [-30, 30],
      [-50, 30],
      [-50, 0],
    ]);
    expect(best?.relief).toBeGreaterThan(0);
    // A nose of 0.8 leaves r^2 (1 - pi / 4) in the corner.
    expect(best?.area).toBeCloseTo(0.64 * (1 - Math.PI / 4), 1);
    const leaning = angles.filter((a) => (a.relief ?? 0) < -4);
    expect(leaning.length).toBeGreaterThan(0);
    expect(Math.min(...leaning.map((a) => a.area))).toBeGreaterThan((best?.area ?? 0) + 0.5);
  });
});

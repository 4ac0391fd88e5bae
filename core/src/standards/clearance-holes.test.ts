import { expect, it } from '@jest/globals';
import { CLEARANCE_HOLES, threadThrough } from './index.ts';

it('a hole lets the widest thread through that ISO 273 gives it for, in its fine, medium and coarse series', () => {
  // M6: 6.4, 6.6, 7; M10: 10.5, 11, 12; M16: 17, 17.5, 18.5.
  for (const hole of [6.4, 6.6, 6.8, 7]) expect(threadThrough(hole)).toBe(6);
  for (const hole of [10.5, 11, 12]) expect(threadThrough(hole)).toBe(10);
  for (const hole of [17, 17.5, 18.5]) expect(threadThrough(hole)).toBe(16);
  expect(threadThrough(3.1)).toBeUndefined();
  for (const [thread, hole] of CLEARANCE_HOLES) expect(hole).toBeGreaterThan(thread);
});

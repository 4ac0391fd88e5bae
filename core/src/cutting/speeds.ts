// Surface speed v (m/min), spindle speed n (1/min) and diameter d (mm): v = pi d n / 1000.

/** 1/min. Of no diameter there is none. */
export const spindleSpeed = (surfaceSpeed: number, diameter: number): number | undefined =>
  diameter > 0 ? (1000 * surfaceSpeed) / (Math.PI * diameter) : undefined;

/** m/min. */
export const surfaceSpeedOf = (spindle: number, diameter: number): number => (Math.PI * diameter * spindle) / 1000;

/** mm/min. `teeth` is 1 where the feed is for a revolution. */
export const feedRate = (feed: number, spindle: number, teeth: number): number => feed * teeth * spindle;

import { useReducedMotion } from '@mantine/hooks';
import { useEffect, useRef, useState } from 'react';
import type { Carrier } from '#core/records';

// Of one index, however far; longer than the eye needs, shorter than a hand waits.
const TURN_MS = 350;

/**
 * The station that is seen at work while a carrier is indexed: between two of them on the way, by the shorter way round. At once where motion is not wanted, and on
 * carriers that do not carry their stations round.
 */
export function useIndexing(carrier: Carrier, station: number): number {
  const isStill = useReducedMotion();
  const [seen, setSeen] = useState({ carrier: carrier.id, at: station });
  const from = useRef(seen);
  from.current = seen;
  useEffect(() => {
    const start = from.current;
    const isRound = carrier.kind === 'turret';
    if (isStill || carrier.kind === 'swivel head' || start.carrier !== carrier.id) {
      setSeen({ carrier: carrier.id, at: station });
      return;
    }
    const n = carrier.stations;
    const way = isRound ? ((((station - start.at) % n) + 1.5 * n) % n) - n / 2 : station - start.at;
    if (Math.abs(way) < 1e-9) return;
    const began = performance.now();
    let frame = requestAnimationFrame(function step() {
      const t = Math.min(1, (performance.now() - began) / TURN_MS);
      const eased = t * t * (3 - 2 * t);
      setSeen({ carrier: carrier.id, at: t === 1 ? station : start.at + way * eased });
      if (t < 1) frame = requestAnimationFrame(step);
    });
    return () => cancelAnimationFrame(frame);
  }, [carrier.id, carrier.kind, carrier.stations, station, isStill]);
  return seen.carrier === carrier.id ? seen.at : station;
}

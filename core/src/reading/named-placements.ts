// What a file says of its interfaces by name (ISO/TS 13399-80), beside what its geometry shows.
import { angleBetweenRad, cross, degFromRad, distance, dot, type Frame, fromZAndX, length, roundTo, scale, subtract } from '#core/math';
import type { Model, NamedPlacement } from '#core/mesh';
import { across } from './face-table.ts';
import type { FoundConnection, ReadingWarning } from './found.ts';
import type { Reading } from './reading.ts';

// mm and degrees: a placement and what was read are the same.
const SAME_PLACE = 0.05;
const SAME_WAY_DEG = 0.1;
// As sure as anything gets: two that do not know of each other say the same.
const BOTH_SAY = 0.985;

/**
 * A reading with the file's own coordinate systems: where MCS (or PCS) and the mount agree, both are surer and X is the file's; where they do not, the mount as
 * the file has it is offered beside, and the difference is said. The same for CSW and the seats, CRP and the tip.
 */
export function withNamedPlacements(reading: Reading, model: Model): Reading {
  const named = model.placements ?? [];
  if (named.length === 0) return reading;
  const warnings: ReadingWarning[] = [...reading.warnings];
  const machine = named.find((p) => p.name.startsWith('MCS')) ?? named.find((p) => p.name.startsWith('PCS'));
  const { mount, others } = withMachineSide(reading, machine, warnings);
  const seats = reading.seats.map((seat) => {
    const said = named.find((p) => p.name.startsWith('CSW') && isSame(p.frame, seat.frame, true));
    return said ? surer(seat, `${said.name} in the file is there`) : seat;
  });
  for (const p of named.filter((n) => n.name.startsWith('CSW')))
    if (!seats.some((s) => isSame(p.frame, s.frame, true)) && !reading.tips.some((t) => nearTip(p, t) < SAME_PLACE))
      warnings.push({
        code: 'csw-elsewhere',
        message: `The file has ${p.name} at ${say(p.frame)}, where no seat of a standard was found${nearest(p, seats)}; pick the seat if one is there.`,
      });
  const point = named.find((p) => p.name.startsWith('CRP'));
  const tips = reading.tips.map((tip, i) => {
    if (!point || i > 0) return tip;
    const off = Math.min(...named.filter((p) => p.name.startsWith('CRP')).map((p) => nearTip(p, tip)));
    if (off < SAME_PLACE) return { ...tip, confidence: Math.max(tip.confidence, BOTH_SAY), evidence: `${tip.evidence}; ${point.name} in the file is there` };
    warnings.push({
      code: 'crp-elsewhere',
      message: `The file has ${point.name} ${roundTo(off, 3)} mm beside the cutting corner that was found: look which one is right.`,
    });
    return tip;
  });
  return { ...reading, ...(mount ? { mount } : {}), otherMounts: [...others, ...reading.otherMounts], seats, tips, warnings };
}

function withMachineSide(
  { mount }: Reading,
  machine: NamedPlacement | undefined,
  warnings: ReadingWarning[],
): { mount: FoundConnection | undefined; others: FoundConnection[] } {
  if (!machine) return { mount, others: [] };
  if (!mount) {
    warnings.push({
      code: 'mcs-alone',
      message: `The file has ${machine.name} at ${say(machine.frame)}, but no connection of a standard was found there; pick its faces to mark the mount.`,
    });
    return { mount, others: [] };
  }
  const { frame } = machine;
  const way = degFromRad(angleBetweenRad(frame.z, mount.frame.z));
  const apart = distance(frame.origin, mount.frame.origin);
  if (apart < SAME_PLACE && way < SAME_WAY_DEG) {
    const x = across(frame.x, mount.frame.z);
    const about = degFromRad(angleBetweenRad(x, mount.frame.x));
    if (about < SAME_WAY_DEG) return { mount: surer(mount, `${machine.name} in the file is there`), others: [] };
    // Where the geometry tells X (a tip, a slot), the file's is a convention of its own.
    if (mount.tellsX) return { mount: surer(mount, `${machine.name} in the file is there, its X turned by ${roundTo(about, 1)}°`), others: [] };
    return {
      mount: { ...surer(mount, `${machine.name} in the file is there, and tells X`), frame: fromZAndX(mount.frame.origin, mount.frame.z, x) },
      others: [],
    };
  }
  if (apart < SAME_PLACE && 180 - way < SAME_WAY_DEG) {
    // Which sense Z has is a convention that some files turn round; the place agrees.
    warnings.push({
      code: 'mcs-turned',
      message: `${machine.name} in the file lies at the mount, but its Z points to the machine; here Z points to the work.`,
    });
    return { mount: surer(mount, `${machine.name} in the file lies there, its Z the other way`), others: [] };
  }
  warnings.push({
    code: 'mcs-elsewhere',
    message: `${machine.name} in the file is ${roundTo(apart, 3)} mm from the mount that was found${way > SAME_WAY_DEG ? `, its Z ${roundTo(way, 1)}° off` : ''}: look which one is right.`,
  });
  // Z towards the work, also where the file has it the other way.
  const asFile: FoundConnection = {
    ...mount,
    frame: dot(frame.z, mount.frame.z) < 0 ? { ...frame, z: scale(frame.z, -1) } : frame,
    confidence: 0.6,
    evidence: `as ${machine.name} in the file has it`,
  };
  // Two that contradict each other: neither is taken with all the rest unseen.
  return { mount: { ...mount, confidence: Math.min(mount.confidence, 0.69) }, others: [asFile] };
}

const surer = <T extends { readonly confidence: number; readonly evidence: string }>(found: T, evidence: string): T => ({
  ...found,
  confidence: Math.max(found.confidence, BOTH_SAY),
  evidence: `${found.evidence}; ${evidence}`,
});

// Same place, along the same line; either sense where that is a convention.
function isSame(a: Frame, b: Frame, eitherWay: boolean): boolean {
  const lean = length(cross(a.z, b.z));
  return distance(a.origin, b.origin) < SAME_PLACE && lean < Math.sin((SAME_WAY_DEG * Math.PI) / 180) && (eitherWay || dot(a.z, b.z) > 0);
}

const nearTip = (p: NamedPlacement, t: Reading['tips'][number]): number =>
  Math.min(
    ...[t.virtualTip, t.noseCentre, [0, 1, 2].map((k) => t.noseCentre[k] + t.noseRadius * t.towards[k]) as never].map((q) =>
      length(subtract(p.frame.origin, q)),
    ),
  );

const say = ({ origin }: Frame): string => origin.map((v) => roundTo(v, 3)).join(', ');
const nearest = (p: NamedPlacement, seats: readonly FoundConnection[]): string => {
  const off = Math.min(...seats.map((s) => distance(s.frame.origin, p.frame.origin)));
  return Number.isFinite(off) ? ` (the nearest one is ${roundTo(off, 3)} mm away)` : '';
};

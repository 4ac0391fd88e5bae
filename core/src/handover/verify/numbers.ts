import { gaugeLengthOf, placeFrame, placeTips } from '#core/assembly';
import { distance, type Frame, type Motion, SAME_POINT } from '#core/math';
import { type Check, mountFrameOf } from '#core/records';
import type { OpenedPackage } from '../open-package.ts';

/** Whether pieces stand where the records put them, and gauge length and tips are what follows from that. */
export function verifyNumbers({ manifest, assembly, components }: OpenedPackage, placed: ReadonlyMap<string, Motion>): Check[] {
  const tips = placeTips(assembly, components, new Map(placed));
  const differences: { what: string; by: number }[] = [];
  const compare = (what: string, a: number | null | undefined, b: number | null | undefined) => {
    const by = (a ?? null) === (b ?? null) ? 0 : Math.abs((a ?? NaN) - (b ?? NaN));
    if (!(by <= SAME_POINT)) differences.push({ what, by });
  };
  compare('the gauge length', manifest.gaugeLength, gaugeLengthOf(assembly, tips));
  if (tips.length !== manifest.tips.length) differences.push({ what: `the number of tips (${manifest.tips.length} instead of ${tips.length})`, by: NaN });
  tips.forEach((tip, i) => {
    const packed = manifest.tips[i];
    if (!packed) return;
    const piece = manifest.pieces.find((p) => p.piece === tip.piece)?.name ?? tip.piece;
    const what = (field: string) => `${field} of ${tip.name} (${piece})`;
    if (packed.piece !== tip.piece || packed.tip !== tip.tip || packed.programmedPoint !== tip.programmedPoint)
      differences.push({ what: what('which point is programmed'), by: NaN });
    for (const field of ['L', 'Q', 'Y', 'noseRadius'] as const) compare(what(field), packed[field], tip[field]);
    for (const field of ['noseCentre', 'virtualTip'] as const) for (const k of [0, 1, 2]) compare(what(SAY[field]), packed[field][k], tip[field][k]);
  });
  const listed = manifest.pieces.map((p) => p.piece);
  const missing = assembly.pieces.find((p) => !listed.includes(p.id));
  if (missing || listed.length !== assembly.pieces.length) differences.push({ what: `the pieces (${missing?.id ?? 'one too many'})`, by: NaN });
  for (const piece of manifest.pieces) {
    const motion = placed.get(piece.piece);
    const record = components[piece.componentId];
    if (!motion || !record) differences.push({ what: `${piece.name}, which has no place`, by: NaN });
    else compare(`the mount of ${piece.name}`, 0, frameApart(piece.mountInGauge, placeFrame(motion, mountFrameOf(record))));
  }
  if (differences.length === 0)
    return [{ code: 'numbers', state: 'pass', message: 'Gauge length, tips and mounts follow from the frames', value: 0, limit: SAME_POINT }];
  return differences.map(({ what, by }) => ({
    code: 'numbers',
    state: 'fail',
    message: `${what[0].toUpperCase()}${what.slice(1)} differs from what follows from the frames${Number.isFinite(by) ? ` by ${by.toFixed(4)} mm` : ''}.`,
    ...(Number.isFinite(by) ? { value: by } : {}),
    limit: SAME_POINT,
  }));
}

const SAY: Readonly<Record<'noseCentre' | 'virtualTip', string>> = { noseCentre: 'the nose centre', virtualTip: 'the virtual tip' };

// mm. Directions count over 100 mm.
function frameApart(a: Frame, b: Frame): number {
  return Math.max(distance(a.origin, b.origin), 100 * distance(a.z, b.z), 100 * distance(a.x, b.x));
}

import { done, failed, type Result } from '#core/issues';
import { faultsOfShape, type HalfProfile, type SolidShape, splitProfile } from '#core/outline';
import type { OutlineRecord } from '#core/records';
import { cuttingStretch } from './outline-facts.ts';

/** What an outline makes: one body, or the stretch that cuts and the rest apart. */
export function shapeOfOutline(outline: OutlineRecord): Result<SolidShape> {
  const { profile, purpose, insert, fault } = outline;
  if (profile.length === 0) return failed('outline.bad-shape', { text: fault ?? 'nothing is drawn' });
  const shape: SolidShape =
    purpose === 'insert'
      ? {
          format: 'ruota-shape',
          version: 1,
          form: 'flat',
          name: 'Insert',
          loop: profile[0],
          thickness: insert.thickness,
          reliefDeg: insert.reliefDeg,
          ...(insert.cutting ? { relieved: insert.cutting } : {}),
          hole: insert.hole,
        }
      : { format: 'ruota-shape', version: 1, form: 'revolved', bodies: bodiesOf(outline) };
  const [wrong] = faultsOfShape(shape);
  return wrong === undefined ? done(shape) : failed('outline.bad-shape', { text: wrong });
}

function bodiesOf(outline: OutlineRecord) {
  const { profile } = outline;
  const cuts = cuttingStretch(outline);
  if (!cuts) return [{ name: 'Body', role: 'tool body' as const, profile }];
  const front = splitProfile(profile, cuts.to);
  const rest = splitProfile(front.below, cuts.from);
  const body = (name: string, role: 'tool body' | 'cutting', of: HalfProfile) => (of.length > 0 ? [{ name, role, profile: of }] : []);
  return [...body('Shank', 'tool body', rest.below), ...body('Cutting part', 'cutting', rest.above), ...body('Front', 'tool body', front.above)];
}

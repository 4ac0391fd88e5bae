import { formatLength, type LengthUnit } from '#core/units';
import { GROWTH_GRADIENT } from '../../../scene/growth-mesh.tsx';

/** The scale beside a picture of growth: colours from nothing to the greatest, in mm or inch. */
export function GrowthScale({ greatest, unit }: { greatest: number; unit: LengthUnit }) {
  return (
    <div className="growth-scale" role="img" aria-label={`Growth from 0 to ${formatLength(greatest, unit)}`}>
      <span className="growth-bar" style={{ background: GROWTH_GRADIENT }} />
      <ol>
        {[1, 0.5, 0].map((s) => (
          <li key={s} className="number">
            {formatLength(s * greatest, unit)}
          </li>
        ))}
      </ol>
    </div>
  );
}

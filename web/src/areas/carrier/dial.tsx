import { memo } from 'react';
import { useMergedRef } from '@mantine/hooks';
import type { CSSProperties } from 'react';
import type { Clearance, StationRow, Swing } from '#core/carrier';
import { type Carrier, type Check, type Control, worstOf } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { SmallPicture } from '../../pictures/record-picture.tsx';
import { useDragged, useStationTarget } from './drag.tsx';
import { checksOf, shownStations, STATE_WORDS } from './say-row.ts';

interface Props {
  readonly carrier: Carrier;
  readonly rows: readonly StationRow[];
  readonly room: readonly Clearance[] | undefined;
  readonly chosen: number;
  readonly onChoose: (station: number) => void;
}

// Of the dial's half width: where its places stand.
const RING = 0.8;

/** The places of a carrier as they stand, each with what it holds and how that is: a turret's about its axis, the others in their row. */
export const Dial = memo(function Dial({ carrier, rows, room, chosen, onChoose }: Props) {
  const stations = shownStations(carrier, rows);
  const isRound = carrier.kind === 'turret';
  const per = 360 / carrier.stations;
  return (
    <div
      className={isRound ? 'dial round' : 'dial'}
      role="group"
      aria-label={`Stations of ${carrier.name}`}
      data-many={(isRound && carrier.stations > 16) || undefined}
    >
      {isRound && (
        <svg viewBox="-100 -100 200 200" className="dial-disc" aria-hidden>
          <circle r={57} />
          {stations.map((n) => (
            <line key={n} x1={0} y1={-57} x2={0} y2={-63} transform={`rotate(${(n - chosen) * per * (carrier.numbered === 1 ? 1 : -1) + 180})`} />
          ))}
          <path d="M0 50 l-6 -9 h12 z" className="dial-work" />
          <text y={34}>at work</text>
        </svg>
      )}
      {stations.map((n) => {
        const here = rows.filter((r) => r.place.carrierId === carrier.id && r.place.station === n);
        const state = here.length > 0 ? worstOf(here.flatMap((r) => checksOf(r, room))) : undefined;
        // The chosen one is at work: below, where the spindle is.
        const angle = (((n - chosen) * per * (isRound && carrier.numbered === -1 ? -1 : 1) + 90) * Math.PI) / 180;
        const place = isRound ? { left: `${50 + 50 * RING * Math.cos(angle)}%`, top: `${50 + 50 * RING * Math.sin(angle)}%` } : undefined;
        return <DialPlace key={n} {...{ n, place, state, onChoose }} row={here[0]} isChosen={n === chosen} />;
      })}
    </div>
  );
});

interface DialPlaceProps {
  readonly n: number;
  readonly row: StationRow | undefined;
  readonly state: Check['state'] | undefined;
  readonly place: CSSProperties | undefined;
  readonly isChosen: boolean;
  readonly onChoose: (station: number) => void;
}

function DialPlace({ n, row, state, place, isChosen, onChoose }: DialPlaceProps) {
  const name = row && (row.assembly?.name ?? 'its assembly is gone');
  const target = useStationTarget(`dial ${n}`, n);
  const { ref, ...drag } = useDragged(`dial ${n}`, name === undefined ? undefined : { station: n, name });
  const hold = useMergedRef(target.ref, ref);
  return (
    <button
      type="button"
      ref={hold}
      className="dial-place"
      style={place}
      data-chosen={isChosen || undefined}
      data-state={state}
      data-over={target.isOver || undefined}
      aria-pressed={isChosen}
      aria-label={`Station ${n}${name ? `: ${name}, ${STATE_WORDS[state ?? 'pass']}` : ', empty'}`}
      onClick={() => onChoose(n)}
      {...drag}
    >
      <span className="dial-number">{n}</span>
      {row?.assembly && (
        <span className="dial-picture" aria-hidden>
          <SmallPicture record={row.assembly} />
        </span>
      )}
      {state && state !== 'pass' && <span className={`ledger-mark ${state}`} aria-hidden />}
    </button>
  );
}

/** What a turret sweeps when it is indexed, and from where on it clears what stands at the spindles. */
export function SwingLine({ swing, control, unit }: { swing: Swing; control: Control; unit: LengthUnit }) {
  const { radius, station, clearFrom, against, isWithin } = swing;
  return (
    <p className={`swing-line ${isWithin ? '' : 'warn'}`}>
      Indexed it sweeps <span className="number">{formatLength(radius, unit)}</span> about its axis{station === 0 ? '' : `, by station ${station}`}: beside the{' '}
      {against} clear from X <span className="number">{formatLength(control.diameters ? 2 * clearFrom : clearFrom, unit)}</span>
      {control.diameters ? ' on diameter' : ''}
      {isWithin ? '.' : ', beyond its travel: retreat along Z first.'}
    </p>
  );
}

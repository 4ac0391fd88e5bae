import { Link } from 'react-router';
import type { Channel, SetUpRecord } from '#core/records';
import { type EventKind, isFault, type TrialEvent } from '#core/trial';
import { formatLength, type LengthUnit } from '#core/units';
import { KIND_WORDS, sayLine } from './say-event.ts';

interface Props {
  readonly events: readonly TrialEvent[];
  readonly setUp: SetUpRecord;
  readonly unit: LengthUnit;
  readonly isKnown: boolean;
  readonly programs: readonly Channel[];
  readonly onShow: (event: TrialEvent) => void;
  /** The assembly that works at each event. */
  readonly atWork: ReadonlyMap<TrialEvent, string | undefined>;
}

// What another piece, or another stick-out, may mend.
const HELPED_IN_BUILD: ReadonlySet<EventKind> = new Set<EventKind>(['touch', 'travel', 'feed', 'depth']);

/** What goes wrong in a run, faults first; each shows its moment. */
export function EventList({ events, setUp, unit, isKnown, programs, onShow, atWork }: Props) {
  if (!isKnown) return null;
  if (events.length === 0) return <p className="soft">Nothing touches, nothing gets nearer than is wanted, nothing is cut into.</p>;
  const sorted = [...events].sort((a, b) => Number(isFault(b)) - Number(isFault(a)) || a.time - b.time);
  return (
    <ul className="event-list">
      {sorted.map((e) => (
        <li key={`${e.channel} ${e.time} ${e.kind} ${e.between.join()}`} className={isFault(e) ? 'fail' : 'warn'}>
          <button type="button" onClick={() => onShow(e)} title="Show the moment">
            <span className={`ledger-mark ${isFault(e) ? 'fail' : 'warn'}`} aria-hidden />
            <span>
              <b>{KIND_WORDS[e.kind]}</b> <span className="soft">{sayLine(e, programs)}</span>
              <br />
              {e.message}
            </span>
            <span className="number">{e.kind === 'sense' || e.kind === 'feed' ? '' : formatLength(e.depth, unit)}</span>
          </button>
          {e.kind !== 'gouge' && isFault(e) && (
            <span className="event-ways">
              <Link to={`/carrier/${setUp.id}`} className="soft-link">
                See the set-up
              </Link>
              {HELPED_IN_BUILD.has(e.kind) && atWork.get(e) && (
                <Link to={`/build/${atWork.get(e)}`} className="soft-link">
                  Change its pieces or stick-out in Build
                </Link>
              )}
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}

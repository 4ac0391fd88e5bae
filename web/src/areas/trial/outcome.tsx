import { Fragment } from 'react';
import { say } from '#core/issues';
import { isFault, type TrialAnswer } from '#core/trial';
import { formatLength, type LengthUnit } from '#core/units';
import { sayTime } from './say-event.ts';

interface Props {
  readonly answer: TrialAnswer | undefined;
  readonly isRunning: boolean;
  readonly hasProgram: boolean;
  readonly unit: LengthUnit;
}

/** What came out of a run, or why there was none. */
export function Outcome({ answer, isRunning, hasProgram, unit }: Props) {
  if (!hasProgram) return <p>There is no program yet: open one under program, or write it under cuts.</p>;
  if (!answer) return <p className="soft">{isRunning ? 'It is being run…' : 'It could not be run.'}</p>;
  if (answer.faults)
    return (
      <ul className="checks" role="alert">
        {answer.faults.map((f) => (
          <li key={say(f)} className="fail">
            <span className="ledger-mark fail" role="img" aria-label="fail" />
            {say(f)}
          </li>
        ))}
      </ul>
    );
  const faults = answer.events.filter(isFault).length;
  return (
    <>
      <h2 className={faults === 0 ? undefined : 'fail'}>
        {faults === 0 ? 'Nothing touches' : faults === 1 ? 'One thing is wrong' : `${faults} things are wrong`}
      </h2>
      <dl className="number-list">
        <dt>takes</dt>
        <dd>{sayTime(answer.time)}</dd>
        <dt>cuts away</dt>
        <dd>{(answer.removedVolume / 1000).toFixed(2)} cm³</dd>
        {answer.fallen.map((f) => (
          <Fragment key={f.line}>
            <dt>parted off, line {f.line}</dt>
            <dd>{(f.volume / 1000).toFixed(2)} cm³</dd>
          </Fragment>
        ))}
        {answer.against && (
          <>
            <dt>left over the contour, at most</dt>
            <dd>{formatLength(answer.against.over, unit)}</dd>
            <dt>cut into it, at most</dt>
            <dd className={answer.against.under > 0.005 ? 'fail' : undefined}>{formatLength(answer.against.under, unit)}</dd>
          </>
        )}
      </dl>
      {answer.warnings.length > 0 && (
        <ul className="checks">
          {answer.warnings.map((w) => (
            <li key={say(w)} className="warn">
              <span className="ledger-mark warn" role="img" aria-label="warn" />
              {say(w)}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

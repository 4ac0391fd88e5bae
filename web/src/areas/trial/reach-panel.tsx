import { useState } from 'react';
import type { SetUpParts } from '#core/carrier';
import type { TrialRecord } from '#core/records';
import { type Blocked, type EdgeReach, type LoadedEdge, type Reach, type Residual } from '#core/trial';
import { formatLength, type LengthUnit } from '#core/units';
import { AngleBlock, type FoundAngles } from './angle-block.tsx';
import { MissingList } from './missing-list.tsx';

interface Props {
  readonly reach: Reach | undefined;
  readonly isLooking: boolean;
  readonly hasContour: boolean;
  readonly unit: LengthUnit;
  readonly edge: number;
  readonly onEdge: (edge: number) => void;
  readonly trial: TrialRecord;
  readonly parts: SetUpParts;
  readonly edges: readonly LoadedEdge[];
}

const WHY: Readonly<Record<Blocked, string>> = {
  'edge angle': 'its edges do not get in there',
  'nose radius': 'its nose is too large',
  body: 'something of it is in the way',
  travel: 'beyond the travel',
  'no way out': 'no straight way gets there',
};

/** What each edge of the set-up can cut of the contour, why not elsewhere, and what they leave together. The chosen one is drawn on the part. */
export function ReachPanel({ reach, isLooking, hasContour, unit, edge, onEdge, trial, parts, edges }: Props) {
  const [over, setOver] = useState<FoundAngles>();
  if (!hasContour) return <p className="soft">Say what is to come out, under tried: then each edge shows what of it it can cut.</p>;
  if (!reach) return <p className="soft">{isLooking ? 'Looking what the edges reach…' : 'It could not be told.'}</p>;
  const chosen = reach.edges[Math.min(edge, reach.edges.length - 1)];
  const loaded = edges[Math.min(edge, edges.length - 1)];
  return (
    <section className="tried-panel" aria-label="Reach">
      <p>
        Together they leave <Left residual={reach.together} unit={unit} />.
      </p>
      {reach.order.length > 1 && <p className="soft">Taken in the order {reach.order.map((i) => reach.edges[i].edge).join(', ')}.</p>}
      {reach.missing.length > 0 && (
        <MissingList missing={reach.missing} isHead={reach.edges.some((e) => e.angle !== undefined)} loaded={parts.components} setUpId={trial.setUpId} />
      )}
      <ul className="event-list" aria-label="Edges">
        {reach.edges.map((e, i) => (
          <li key={`${e.placeId} ${e.edge}`}>
            <button type="button" aria-pressed={e === chosen} data-chosen={e === chosen || undefined} onClick={() => onEdge(i)}>
              <span>
                <b>{e.edge}</b>
                {e.angle === undefined ? '' : `, head at ${e.angle}°`}
              </span>
              <span className="number">{Math.round((100 * lengthOf(e)) / reach.length)} %</span>
            </button>
          </li>
        ))}
      </ul>
      {chosen && (
        <>
          <h3>Where {chosen.edge} does not get</h3>
          {chosen.blocked.length === 0 ? (
            <p className="soft">It gets everywhere.</p>
          ) : (
            <ul className="reach-list">
              {chosen.blocked.map((b) => (
                <li key={b.from}>
                  <span className="reach-line" data-why={b.why} aria-hidden />
                  <span>
                    {WHY[b.why]}
                    {b.why === 'body' ? `: ${b.by}` : ''}
                    <br />
                    <span className="soft">
                      {formatLength(b.to - b.from, unit)} long, about Z {formatLength(b.at[0], unit)}, ⌀ {formatLength(2 * b.at[1], unit)}
                    </span>
                  </span>
                </li>
              ))}
            </ul>
          )}
          {chosen.bore && (
            <p className="soft">
              It gets into the bore to Z {formatLength(chosen.bore.deepest[0], unit)}
              {chosen.bore.least &&
                `; all else of it has ${formatLength(chosen.bore.least.room, unit)} of room there at the least, at Z ${formatLength(chosen.bore.least.z, unit)}`}
              . What it asks for is drawn in the bore.
            </p>
          )}
          <p className="soft">
            By itself it leaves <Left residual={chosen.residual} unit={unit} />.
          </p>
          {loaded?.row.carrier?.kind === 'swivel head' && (
            <AngleBlock key={`${loaded.row.place.id} ${loaded.edge.own.tip}`} {...{ trial, parts, loaded, over }} onOver={setOver} />
          )}
        </>
      )}
    </section>
  );
}

const lengthOf = ({ reached }: EdgeReach): number => reached.reduce((s, r) => s + r.to - r.from, 0);

function Left({ residual: { area, volume, thickness }, unit }: { residual: Residual; unit: LengthUnit }) {
  if (area === 0) return <b>nothing</b>;
  return (
    <b>
      {area.toFixed(2)} mm² of the section, {volume.toFixed(0)} mm³, {formatLength(thickness, unit)} thick at most
    </b>
  );
}

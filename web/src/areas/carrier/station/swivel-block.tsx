import { lazy, Suspense } from 'react';
import { controlAngle, headAngle, type SetUpParts, type StationRow, USUAL_POSES } from '#core/carrier';
import type { CarrierOf, MachineRecord, SetUpRecord } from '#core/records';
import { formatAngleDeg } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { changePlace } from '../../../store/set-up-actions.ts';
import { useHeadRoom } from './use-head-room.ts';

const SwivelChart = lazy(() => import('./swivel-chart.tsx'));

interface Props {
  readonly setUp: SetUpRecord;
  readonly machine: MachineRecord;
  readonly carrier: CarrierOf<'swivel head'>;
  readonly row: StationRow;
  readonly parts: SetUpParts;
  readonly isLoading: boolean;
  /** Swings the head without keeping it; null: as it is kept. */
  readonly onSwing: (angleDeg: number | null) => void;
}

const POSE_WORDS: Readonly<Record<number, string>> = { [-90]: 'at the counter spindle', 0: 'upright', 90: 'at the main chuck' };

/** The angle of a head: its own degrees and the control's side by side, and over which angles each edge clears what it leaves. */
export function SwivelBlock({ setUp, machine, carrier, row, parts, isLoading, onSwing }: Props) {
  const { place, edges } = row;
  const { swivel } = machine.control;
  const angle = place.angleDeg ?? 0;
  const say = (v: number) => {
    onSwing(null);
    const kept = setUp.places.find((p) => p.id === place.id);
    if (kept && kept.angleDeg !== v) changePlace(setUp.id, kept, 'Angle', { angleDeg: v });
  };
  const [from, to] = carrier.range;
  const at = edges.findIndex((e) => e.atWork.relief);
  const edge = edges[Math.max(0, at)];
  const room = useHeadRoom(parts, place, Math.max(0, at), isLoading);
  return (
    <div className="swivel-block">
      <div className="edge-numbers two">
        <NumberField kind="angle" label="angle of the head" min={from} max={to} value={angle} onCommit={say} />
        <NumberField
          kind="angle"
          label="on the control"
          min={swivel.range[0]}
          max={swivel.range[1]}
          value={controlAngle(swivel, angle)}
          onCommit={(v) => {
            const head = headAngle(swivel, v, carrier.range);
            if (head !== undefined) say(head);
          }}
        />
      </div>
      {edge && at >= 0 && (
        <Suspense fallback={<div className="chart-wait" />}>
          <SwivelChart edge={edge} row={row} carrier={carrier} angle={angle} room={room} onAngle={(v, isHeld) => (isHeld ? onSwing(v) : say(v))} />
        </Suspense>
      )}
      <details>
        <summary>Usual poses on this control</summary>
        <table className="feed-table">
          <thead>
            <tr>
              <th scope="col">pose</th>
              <th scope="col" className="number">
                head
              </th>
              <th scope="col" className="number">
                control
              </th>
            </tr>
          </thead>
          <tbody>
            {USUAL_POSES.map((pose) => {
              const named = controlAngle(swivel, pose);
              return (
                <tr key={pose}>
                  <td>{POSE_WORDS[pose] ?? 'between'}</td>
                  <td className="number">{formatAngleDeg(pose)}</td>
                  <td className="number">{named === undefined ? 'beyond' : formatAngleDeg(named)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </details>
    </div>
  );
}

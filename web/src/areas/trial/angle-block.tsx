import { Button, Progress } from '@mantine/core';
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from 'react';
import type { SetUpParts } from '#core/carrier';
import type { TrialRecord } from '#core/records';
import type { LoadedEdge, ReachOverAngles } from '#core/trial';
import { formatAngleDeg } from '#core/units';
import { showIssues } from '../../app/notify.tsx';
import { changePlace } from '../../store/set-up-actions.ts';
import { geometryClient, modelsFor } from '../../workers/geometry-client.ts';

const AngleChart = lazy(() => import('./angle-chart.tsx'));

interface Props {
  readonly trial: TrialRecord;
  readonly parts: SetUpParts;
  readonly loaded: LoadedEdge;
  /** What was found last; it outlives the panel. */
  readonly over: FoundAngles | undefined;
  readonly onOver: (over: FoundAngles) => void;
}

/** What was found over all angles, and of what. */
export interface FoundAngles {
  readonly of: string;
  readonly value: ReachOverAngles;
}

/** What an edge in a swivel head makes of the part over all angles: asked for, as it takes some seconds. */
export function AngleBlock({ trial, parts, loaded, over, onOver }: Props) {
  const [share, setShare] = useState<number | null>(null);
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);
  const { place } = loaded.row;
  // Where the head stands now is no part of it.
  const of = useMemo(() => {
    const { places, blanks } = parts.setUp;
    const others = places.map((p) => (p.id === place.id ? { ...p, angleDeg: 0 } : p));
    return JSON.stringify([loaded.edge.own.tip, trial.spindle, trial.zero, trial.contour, trial.stock, trial.support, others, blanks, parts.machine]);
  }, [trial, parts.setUp, parts.machine, place.id, loaded.edge.own.tip]);
  const known = over?.of === of ? over.value : undefined;
  const look = async () => {
    const control = new AbortController();
    stop.current = control;
    setShare(0);
    const { models, ...rest } = parts;
    const at = loaded.row.edges.indexOf(loaded.edge);
    const found = await geometryClient.run<ReachOverAngles>(
      { job: 'looking at the angles', limitSeconds: 300, signal: control.signal, onProgress: setShare },
      async (remote, progress) => remote.reachOverAngles(rest, trial, place.id, at, await modelsFor(remote, Object.values(parts.components), models), progress),
    );
    setShare(null);
    if (found.state === 'done') onOver({ of, value: found.value });
    if (found.state === 'failed') showIssues('Looking at the angles', found.issues);
  };
  const stand = (deg: number) => changePlace(trial.setUpId, place, 'Angle', { angleDeg: deg });
  const best = known?.best;
  return (
    <figure className="swivel-chart" aria-label="Over the angles of the head">
      {share !== null ? (
        <div className="angle-wait" role="status">
          <Progress value={100 * share} aria-label="Looking at the angles" />
          <Button size="compact-xs" variant="default" onClick={() => stop.current?.abort()}>
            Stop
          </Button>
        </div>
      ) : known ? (
        <>
          {known.angles.length > 0 && (
            <Suspense fallback={<div className="chart-wait" />}>
              <AngleChart over={known} angle={place.angleDeg ?? 0} onAngle={stand} />
            </Suspense>
          )}
          <figcaption className="soft">
            {best ? (
              <>
                Least stays at{' '}
                <button type="button" className="text-button number" onClick={() => stand(best.angle)}>
                  {formatAngleDeg(best.angle)}
                </button>
                {best.control === undefined ? '' : ` (${formatAngleDeg(best.control)} on the control)`}: {best.area.toFixed(2)} mm².
              </>
            ) : (
              'At no angle does it clear what it leaves.'
            )}
          </figcaption>
        </>
      ) : (
        <Button size="compact-xs" variant="default" onClick={() => void look()}>
          Look at all angles of the head
        </Button>
      )}
    </figure>
  );
}

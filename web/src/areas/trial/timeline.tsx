import { ActionIcon, SegmentedControl } from '@mantine/core';
import { IconPlayerPause, IconPlayerPlay, IconPlayerSkipBack, IconPlayerSkipForward } from '@tabler/icons-react';
import { useEffect, useRef, useState } from 'react';
import { isFault, type RunMove, type TrialEvent } from '#core/trial';
import { KIND_WORDS } from './say-event.ts';

interface Props {
  readonly time: number;
  readonly total: number;
  readonly moves: readonly RunMove[];
  readonly events: readonly TrialEvent[];
  readonly onTime: (time: number) => void;
}

const SPEEDS = ['1', '5', '20'] as const;

/** Time of a run, with what goes wrong as marks on it: dragged, played, or gone through block by block, both ways. */
export function Timeline({ time, total, moves, events, onTime }: Props) {
  const [isPlaying, setPlaying] = useState(false);
  const [speed, setSpeed] = useState('5');
  const now = useRef(time);
  now.current = time;
  useEffect(() => {
    if (!isPlaying) return undefined;
    let last = performance.now();
    let frame = requestAnimationFrame(function step(at) {
      const next = Math.min(total, now.current + ((at - last) / 1000) * Number(speed));
      last = at;
      onTime(next);
      if (next >= total) setPlaying(false);
      else frame = requestAnimationFrame(step);
    });
    return () => cancelAnimationFrame(frame);
  }, [isPlaying, speed, total, onTime]);
  // Ends of blocks: where one goes to the next.
  const step = (way: 1 | -1) => {
    setPlaying(false);
    const ends = [0, ...moves.filter((m) => !m.goesOn).map((m) => m.to)].sort((a, b) => a - b);
    const next = way === 1 ? ends.find((t) => t > time + 1e-6) : ends.findLast((t) => t < time - 1e-6);
    if (next !== undefined) onTime(next);
  };
  return (
    <div className="timeline" role="group" aria-label="Time">
      <ActionIcon variant="default" aria-label="One block back" onClick={() => step(-1)}>
        <IconPlayerSkipBack size={16} />
      </ActionIcon>
      <ActionIcon
        variant="filled"
        aria-label={isPlaying ? 'Pause' : 'Play'}
        onClick={() => {
          if (!isPlaying && time >= total) onTime(0);
          setPlaying(!isPlaying);
        }}
      >
        {isPlaying ? <IconPlayerPause size={16} /> : <IconPlayerPlay size={16} />}
      </ActionIcon>
      <ActionIcon variant="default" aria-label="One block on" onClick={() => step(1)}>
        <IconPlayerSkipForward size={16} />
      </ActionIcon>
      <span className="number timeline-now">{time.toFixed(1)} s</span>
      <div className="timeline-track">
        {events.map((e) => (
          <span
            key={`${e.channel} ${e.time} ${e.kind} ${e.between.join()}`}
            className={`timeline-mark ${isFault(e) ? 'fail' : 'warn'}`}
            style={{ left: `${total > 0 ? (100 * e.time) / total : 0}%` }}
            title={`${KIND_WORDS[e.kind]}, line ${e.line}`}
          />
        ))}
        <input
          type="range"
          aria-label="Time of the run, seconds"
          min={0}
          max={total}
          step="any"
          value={time}
          onChange={(e) => {
            setPlaying(false);
            onTime(Number(e.currentTarget.value));
          }}
          onKeyDown={(e) => {
            if (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight') return;
            e.preventDefault();
            step(e.key === 'ArrowRight' ? 1 : -1);
          }}
        />
      </div>
      <span className="number timeline-now">{total.toFixed(1)} s</span>
      <SegmentedControl size="xs" aria-label="How fast it plays" data={SPEEDS.map((v) => ({ value: v, label: `${v}×` }))} value={speed} onChange={setSpeed} />
    </div>
  );
}

import { useMemo, useState } from 'react';
import { measure, type Measure, type Picked } from '#core/contact';
import { bodyOf, type Candidate, type PickRef, samePick, type StageItem } from '../../../scene/picks.ts';

export interface Measuring {
  readonly isOn: boolean;
  /** What was picked so far: two at most. */
  readonly picks: readonly PickRef[];
  readonly found: Measure | undefined;
  readonly onSwitch: () => void;
  readonly onPick: (pick: Candidate) => void;
  readonly onAgain: () => void;
}

/** Measuring between two picks on the stage; it follows what is moved. */
export function useMeasure(items: readonly StageItem[]): Measuring {
  const [isOn, setOn] = useState(false);
  const [picked, setPicked] = useState<readonly PickRef[]>([]);
  // What is gone from the stage cannot be measured from.
  const picks = useMemo(() => picked.filter((p) => bodyOf(items, p)), [items, picked]);
  const found = useMemo(() => {
    const [a, b] = picks.map((p): Picked | undefined => {
      const of = bodyOf(items, p);
      return of && { body: of.body, worldFromFile: of.item.stageFromModel, kind: p.kind, index: p.index };
    });
    return a && b ? measure(a, b) : undefined;
  }, [items, picks]);
  return {
    isOn,
    picks: isOn ? picks : NONE,
    found: isOn ? found : undefined,
    onSwitch: () => {
      setOn(!isOn);
      setPicked([]);
    },
    // A third pick begins anew.
    onPick: (pick) => setPicked(picks.length === 1 && !samePick(picks[0], pick) ? [...picks, pick] : [pick]),
    onAgain: () => setPicked([]),
  };
}

const NONE: readonly PickRef[] = [];

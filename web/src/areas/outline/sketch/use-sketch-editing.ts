import { useEffect, useMemo, useRef, useState } from 'react';
import { failed, type Issue, type Result, say } from '#core/issues';
import { type FlatPoint, type HalfProfile, validateProfile } from '#core/outline';
import type { OutlineRecord } from '#core/records';
import { followPieces, type WholeChange } from '#core/sources';
import {
  freshName,
  moveSketch,
  nameCorners,
  placeOfName,
  type Sketch,
  type SketchConstraint,
  type Sketched,
  type SketchSolver,
  withConstraint,
  withoutConstraint,
} from '#core/sketch';
import { changeOutline } from '../../../app/store.ts';
import { dropSketchSolver, sketchSolver } from '../../../store/sketch-solver.ts';

/** A corner or a piece, by its name. */
export interface SketchPart {
  readonly kind: 'corner' | 'piece';
  readonly name: string;
}

// A union without its names, member by member.
type Unnamed<T> = T extends { id: string } ? Omit<T, 'id'> : never;
export type NewConstraint = Unnamed<SketchConstraint>;

export interface SketchEditing {
  /** As it is drawn now: while a corner is dragged, where it would go. */
  readonly now: Sketched;
  readonly isTurned: boolean;
  readonly isOn: boolean;
  readonly setOn: (on: boolean) => void;
  readonly chosen: readonly SketchPart[];
  /** `gather`: adds to what is chosen, or takes out of it. */
  readonly choose: (part: SketchPart | null, gather?: boolean) => void;
  readonly chooseAll: (parts: readonly SketchPart[]) => void;
  readonly fault: string | null;
  readonly refuse: (text: string | null) => void;
  /** In how many ways it can still move; unknown until it was solved, and where that is too much to count. */
  readonly freedoms: number | null;
  readonly redundant: readonly string[];
  /** Corners drawn from where they are stored, all by the same way. */
  readonly drag: (corners: readonly string[], by: FlatPoint) => void;
  readonly drop: () => void;
  /** Takes a change of the outline itself, solved with what is said of it; whether it was taken. `whole`: where all of it went. */
  readonly take: (label: string, made: Sketched | Result<Sketched> | undefined, whole?: WholeChange) => boolean;
  readonly addConstraints: (made: readonly NewConstraint[]) => void;
  readonly changeValue: (id: string, value: number) => void;
  readonly removeConstraint: (id: string) => void;
  /** Whose number is being typed on the sheet. */
  readonly asked: string | null;
  readonly ask: (id: string | null) => void;
}

/** Changing an outline by hand: corners that are dragged, and what is said of it, which is kept. Each change is a step of the history. */
export function useSketchEditing(outline: OutlineRecord): SketchEditing {
  const { id, profile } = outline;
  const isTurned = outline.purpose !== 'insert';
  const [isOn, setOn] = useState(false);
  const [chosen, setChosen] = useState<readonly SketchPart[]>([]);
  const [fault, setFault] = useState<string | null>(null);
  const [asked, ask] = useState<string | null>(null);
  const [moved, setMoved] = useState<Sketched | null>(null);
  const [solver, setSolver] = useState<SketchSolver | null>(null);
  const sketch: Sketch = useMemo(() => (outline.sketch && fits(outline.sketch, profile) ? outline.sketch : nameCorners(profile)), [outline.sketch, profile]);
  const stored: Sketched = { profile, sketch };
  useEffect(() => {
    if (!isOn || solver) return undefined;
    let live = true;
    void sketchSolver().then((s) => live && setSolver(s));
    return () => {
      live = false;
    };
  }, [isOn, solver]);
  // A solver that broke is replaced; nothing of the outline is lost.
  const attempt = <T>(work: () => Result<T>): Result<T> => {
    try {
      return work();
    } catch {
      dropSketchSolver();
      setSolver(null);
      return failed('sketch.unsolved', {});
    }
  };
  // How free it is, as it is stored.
  const state = useMemo(() => {
    try {
      const solved = isOn && solver && profile.length > 0 ? solver.solve(profile, sketch, isTurned) : undefined;
      return solved?.ok ? solved.value : null;
    } catch {
      // Whatever is changed next replaces the solver.
      return null;
    }
  }, [profile, sketch, isOn, solver, isTurned]);
  const refuse = (issues: readonly Issue[]): false => {
    setMoved(null);
    setFault(issues.map(say).join(' '));
    return false;
  };
  const keep = (label: string, made: Sketched, whole?: WholeChange): boolean => {
    const faults = validateProfile(made.profile, isTurned);
    setMoved(null);
    if (faults.length > 0) {
      setFault(`Not taken: ${faults.join('; ')}.`);
      return false;
    }
    setFault(null);
    changeOutline(id, label, (record) => ({
      ...followPieces(record, stored, made, whole),
      profile: made.profile,
      sketch: made.sketch,
      byHand: true,
      fault: null,
    }));
    return true;
  };
  const solveAndKeep = (label: string, made: Sketched, whole?: WholeChange): boolean => {
    if (!solver) return keep(label, made, whole);
    const solved = attempt(() => solver.solve(made.profile, made.sketch, isTurned));
    return solved.ok ? keep(label, { ...made, profile: solved.value.profile }, whole) : refuse(solved.issues);
  };
  const dragged = useRef<Sketched | null>(null);
  return {
    now: moved ?? stored,
    isTurned,
    isOn,
    setOn: (on) => {
      setOn(on);
      setChosen([]);
      setFault(null);
      setMoved(null);
      ask(null);
    },
    chosen: chosen.filter((c) => sketch.names.some((names) => names.includes(c.name))),
    choose: (part, gather = false) => {
      setFault(null);
      if (!part) return setChosen([]);
      const isThere = chosen.some((c) => isSame(c, part));
      if (!gather) return setChosen([part]);
      setChosen(isThere ? chosen.filter((c) => !isSame(c, part)) : [...chosen, part]);
    },
    chooseAll: setChosen,
    fault,
    refuse: setFault,
    freedoms: state?.freedoms ?? null,
    redundant: state?.redundant ?? [],
    drag: (corners, by) => {
      const at = dragged.current ?? stored;
      const drags = corners.flatMap((corner) => {
        const place = placeOfName(sketch, corner);
        if (!place) return [];
        const [x, y] = profile[place.loop][place.index].from;
        return [{ corner, to: [x + by[0], isTurned ? Math.max(0, y + by[1]) : y + by[1]] as FlatPoint }];
      });
      const to = moveSketch(at.profile, sketch, drags, isTurned);
      if (!to) return;
      dragged.current = { profile: to, sketch };
      setMoved(dragged.current);
    },
    drop: () => {
      const at = dragged.current;
      dragged.current = null;
      if (at) solveAndKeep('Moved a corner', at);
    },
    take: (label, made, whole) => {
      if (!made) {
        setFault('An outline needs at least three pieces.');
        return false;
      }
      if (!('ok' in made)) return solveAndKeep(label, made, whole);
      return made.ok ? solveAndKeep(label, made.value, whole) : refuse(made.issues);
    },
    addConstraints: (made) => {
      let next = sketch;
      let last: string | null = null;
      for (const c of made) {
        last = freshName(next, 'k');
        next = withConstraint(next, { ...c, id: last });
      }
      const [first] = made;
      if (!first || !solveAndKeep(wordsFor(first.kind, isTurned), { profile, sketch: next })) return;
      // A number is asked for where it stands.
      if (made.length === 1 && 'value' in first) ask(last);
    },
    changeValue: (constraint, value) => {
      if (!solver) return;
      const changed = attempt(() => solver.change(profile, sketch, constraint, value, isTurned));
      if (!changed.ok) return void refuse(changed.issues);
      keep('A number of the outline', { profile: changed.value.profile, sketch: changed.value.sketch });
    },
    removeConstraint: (constraint) => void keep('Took something said back', { profile, sketch: withoutConstraint(sketch, constraint) }),
    asked,
    ask,
  };
}

const isSame = (a: SketchPart, b: SketchPart): boolean => a.kind === b.kind && a.name === b.name;

const fits = ({ names }: Sketch, profile: HalfProfile): boolean => names.length === profile.length && names.every((n, i) => n.length === profile[i].length);

const WORDS: Readonly<Record<SketchConstraint['kind'], string>> = {
  horizontal: 'Along the axis',
  vertical: 'Across the axis',
  fixed: 'Stays there',
  tangent: 'Tangent',
  parallel: 'Parallel',
  perpendicular: 'Perpendicular',
  equal: 'Equal',
  symmetric: 'Symmetric',
  length: 'Length',
  along: 'Distance along',
  across: 'Distance across',
  diameter: 'Diameter',
  radius: 'Radius',
  angle: 'Angle to the axis',
};

// Of what has no axis.
const FLAT_WORDS: Readonly<Partial<Record<SketchConstraint['kind'], string>>> = {
  horizontal: 'Level',
  vertical: 'Upright',
  along: 'Distance level',
  across: 'Distance upright',
  angle: 'Angle',
};

/** What is said of an outline, in a word or two. */
export const wordsFor = (kind: SketchConstraint['kind'], isTurned: boolean): string => (isTurned ? WORDS[kind] : (FLAT_WORDS[kind] ?? WORDS[kind]));

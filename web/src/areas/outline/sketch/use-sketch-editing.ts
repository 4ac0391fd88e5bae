import { useEffect, useMemo, useRef, useState } from 'react';
import { failed, type Issue, type Result, say } from '#core/issues';
import { type FlatPoint, validateProfile } from '#core/outline';
import type { OutlineRecord } from '#core/records';
import { freshName, nameCorners, type Sketch, type SketchConstraint, type Sketched, type SketchSolver, withConstraint } from '#core/sketch';
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
  readonly isOn: boolean;
  readonly setOn: (on: boolean) => void;
  readonly chosen: readonly SketchPart[];
  /** `gather`: adds to what is chosen. */
  readonly choose: (part: SketchPart | null, gather?: boolean) => void;
  readonly fault: string | null;
  /** In how many ways it can still move; unknown until it was solved. */
  readonly freedoms: number | null;
  readonly redundant: readonly string[];
  readonly drag: (corner: string, to: FlatPoint) => void;
  readonly drop: () => void;
  /** Takes a change of the outline itself, solved with what is said of it. */
  readonly take: (label: string, made: Sketched | Result<Sketched> | undefined) => void;
  readonly addConstraint: (made: NewConstraint) => void;
  readonly changeValue: (id: string, value: number) => void;
  readonly removeConstraint: (id: string) => void;
}

/** Changing an outline by hand: corners that are dragged, and what is said of it, which is kept. Each change is a step of the history. */
export function useSketchEditing(outline: OutlineRecord): SketchEditing {
  const { id, profile } = outline;
  const isTurned = outline.purpose !== 'insert';
  const [isOn, setOn] = useState(false);
  const [chosen, setChosen] = useState<readonly SketchPart[]>([]);
  const [fault, setFault] = useState<string | null>(null);
  const [moved, setMoved] = useState<Sketched | null>(null);
  const [solver, setSolver] = useState<SketchSolver | null>(null);
  const sketch: Sketch = outline.sketch && fits(outline.sketch, outline) ? outline.sketch : nameCorners(profile);
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
  const key = JSON.stringify([profile, sketch]);
  const state = useMemo(() => {
    try {
      const solved = isOn && solver ? solver.solve(profile, sketch, undefined, isTurned) : undefined;
      return solved?.ok ? solved.value : null;
    } catch {
      // Whatever is changed next replaces the solver.
      return null;
    }
    // biome-ignore lint: the key stands for both
  }, [key, isOn, solver, isTurned]); // eslint-disable-line react-hooks/exhaustive-deps
  const refuse = (issues: readonly Issue[]) => {
    setMoved(null);
    setFault(issues.map(say).join(' '));
  };
  const keep = (label: string, made: Sketched) => {
    const faults = validateProfile(made.profile);
    setMoved(null);
    if (faults.length > 0) return setFault(`Not taken: ${faults.join('; ')}.`);
    setFault(null);
    changeOutline(id, label, () => ({ profile: made.profile, sketch: made.sketch, byHand: true, fault: null }));
  };
  const solveAndKeep = (label: string, made: Sketched) => {
    if (!solver) return keep(label, made);
    const solved = attempt(() => solver.solve(made.profile, made.sketch, undefined, isTurned));
    if (!solved.ok) return refuse(solved.issues);
    keep(label, { ...made, profile: solved.value.profile });
  };
  const dragged = useRef<Sketched | null>(null);
  return {
    now: moved ?? stored,
    isOn,
    setOn: (on) => {
      setOn(on);
      setChosen([]);
      setFault(null);
      setMoved(null);
    },
    chosen: chosen.filter((c) => sketch.names.some((names) => names.includes(c.name))),
    choose: (part, gather = false) => {
      if (!part) return setChosen([]);
      const isThere = chosen.some((c) => c.kind === part.kind && c.name === part.name);
      if (!gather) return setChosen([part]);
      setChosen(isThere ? chosen.filter((c) => c.kind !== part.kind || c.name !== part.name) : [...chosen, part].slice(-2));
    },
    fault,
    freedoms: state?.freedoms ?? null,
    redundant: state?.redundant ?? [],
    drag: (corner, to) => {
      if (!solver) return;
      const at = dragged.current ?? stored;
      const solved = attempt(() => solver.solve(at.profile, sketch, { corner, to }, isTurned));
      if (!solved.ok) return;
      dragged.current = { profile: solved.value.profile, sketch };
      setMoved(dragged.current);
    },
    drop: () => {
      const at = dragged.current;
      dragged.current = null;
      if (at) solveAndKeep('Moved a corner', at);
    },
    take: (label, made) => {
      if (!made) return setFault('An outline needs at least three pieces.');
      if (!('ok' in made)) return solveAndKeep(label, made);
      if (made.ok) solveAndKeep(label, made.value);
      else refuse(made.issues);
    },
    addConstraint: (made) => {
      const next = withConstraint(sketch, { ...made, id: freshName(sketch, 'k') });
      solveAndKeep(WORDS[made.kind], { profile, sketch: next });
    },
    changeValue: (constraint, value) => {
      if (!solver) return;
      const changed = attempt(() => solver.change(profile, sketch, constraint, value, isTurned));
      if (!changed.ok) return refuse(changed.issues);
      keep('A number of the outline', { profile: changed.value.profile, sketch: changed.value.sketch });
    },
    removeConstraint: (constraint) =>
      keep('Took something said back', { profile, sketch: { ...sketch, constraints: sketch.constraints.filter((c) => c.id !== constraint) } }),
  };
}

const fits = ({ names }: Sketch, { profile }: OutlineRecord): boolean =>
  names.length === profile.length && names.every((n, i) => n.length === profile[i].length);

export const WORDS: Readonly<Record<SketchConstraint['kind'], string>> = {
  horizontal: 'Along the axis',
  vertical: 'Across the axis',
  fixed: 'Stays there',
  tangent: 'Tangent',
  parallel: 'Parallel',
  perpendicular: 'Perpendicular',
  equal: 'Equal',
  length: 'Length',
  along: 'Distance along',
  across: 'Distance across',
  diameter: 'Diameter',
  radius: 'Radius',
  angle: 'Angle to the axis',
};

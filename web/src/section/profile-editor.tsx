import { Button, Group } from '@mantine/core';
import { type PointerEvent, useEffect, useRef, useState } from 'react';
import { cornerOfProfile, type CornerRef, type HalfProfile, moveCorner, type PathPiece, removeCorner, straightenPiece, validateProfile } from '#core/outline';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../common/number-field.tsx';

/** From the profile's [z, r] to pixels of the strip, and back. */
export interface StripScale {
  readonly sx: (z: number) => number;
  readonly sy: (r: number) => number;
  readonly scale: number;
}

/** What is chosen of a profile that is being changed. */
export type ProfilePart = { readonly kind: 'corner'; readonly at: CornerRef } | { readonly kind: 'piece'; readonly loop: number; readonly index: number };

export interface ProfileEditing {
  /** The profile as it is drawn now. */
  readonly profile: HalfProfile;
  readonly isOn: boolean;
  readonly chosen: ProfilePart | null;
  readonly fault: string | null;
  readonly setOn: (on: boolean) => void;
  readonly choose: (part: ProfilePart | null) => void;
  /** While a corner is dragged. */
  readonly show: (profile: HalfProfile) => void;
  /** Takes a change: it is made and proven at once. */
  readonly take: (profile: HalfProfile | undefined) => void;
}

/**
 * The state of changing a profile by hand; `make` makes geometry from it and resolves when that ended. Changes that come while one is being made
 * are not queued: the last of them is made next.
 */
export function useProfileEditing(profile: HalfProfile | undefined, make: (profile: HalfProfile) => Promise<unknown>): ProfileEditing | undefined {
  const [draft, setDraft] = useState<HalfProfile | null>(null);
  const [isOn, setOn] = useState(false);
  const [chosen, choose] = useState<ProfilePart | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  // Always the one of the last render: it makes from the record as it is then.
  const current = useRef(make);
  useEffect(() => {
    current.current = make;
  }, [make]);
  const wanted = useRef<HalfProfile | null>(null);
  const isMaking = useRef(false);
  if (!profile) return undefined;
  const makeWanted = async () => {
    if (isMaking.current) return;
    isMaking.current = true;
    try {
      while (wanted.current) {
        const next = wanted.current;
        wanted.current = null;
        await current.current(next);
      }
    } finally {
      isMaking.current = false;
      setDraft(null);
    }
  };
  return {
    profile: draft ?? profile,
    isOn,
    chosen,
    fault,
    choose,
    show: setDraft,
    setOn: (on) => {
      setOn(on);
      choose(null);
      setFault(null);
    },
    take: (next) => {
      if (!next) return setFault('A profile needs at least three pieces.');
      const faults = validateProfile(next);
      if (faults.length > 0) {
        // What was good before is still being made, or is what is shown.
        setDraft(wanted.current);
        return setFault(`Not taken: ${faults.join('; ')}.`);
      }
      setFault(null);
      setDraft(next);
      wanted.current = next;
      void makeWanted();
    },
  };
}

// mm that an arrow key moves a corner by, and with Shift.
const STEP = 0.1;
const SMALL_STEP = 0.01;

/** The profile over the section; while it is changed, with its corners to drag and its pieces to choose. */
export function ProfileLines({ editing, at, unit }: { editing: ProfileEditing; at: StripScale; unit: LengthUnit }) {
  const { profile, isOn, chosen, choose } = editing;
  const d = (p: PathPiece) => `M${at.sx(p.from[0])} ${at.sy(p.from[1])}${pathTo(p, at)}`;
  const isAxis = (p: PathPiece) => p.from[1] < 1e-9 && p.to[1] < 1e-9;
  return (
    <g>
      {profile.flatMap((loop, l) =>
        loop.map((p, i) => {
          if (isAxis(p)) return null;
          const isChosen = chosen?.kind === 'piece' && chosen.loop === l && chosen.index === i;
          return (
            <g key={`${l} ${p.from.join()} ${p.to.join()}`}>
              <path d={d(p)} className={`strip-profile ${isChosen ? 'chosen' : ''} ${isOn ? 'edited' : ''}`} />
              {isOn && <path d={d(p)} className="strip-grip" onPointerDown={() => choose({ kind: 'piece', loop: l, index: i })} />}
            </g>
          );
        }),
      )}
      {isOn && profile.flatMap((loop, l) => loop.map((_, i) => <Corner key={`${l} ${i}`} {...{ editing, at, unit }} corner={{ loop: l, corner: i }} />))}
    </g>
  );
}

/** A piece as SVG from where the pen stands. */
export function pathTo(p: PathPiece, { sx, sy, scale }: StripScale): string {
  if (p.kind === 'line') return `L${sx(p.to[0])} ${sy(p.to[1])}`;
  const r = Math.hypot(p.from[0] - p.centre[0], p.from[1] - p.centre[1]) * scale;
  // Pixels count downwards, which turns the sense round.
  return `A${r} ${r} 0 0 ${p.ccw ? 0 : 1} ${sx(p.to[0])} ${sy(p.to[1])}`;
}

function Corner({ editing, at, unit, corner }: { editing: ProfileEditing; at: StripScale; unit: LengthUnit; corner: CornerRef }) {
  const { profile, chosen, choose, show, take } = editing;
  const [z, r] = cornerOfProfile(profile, corner);
  const isChosen = chosen?.kind === 'corner' && chosen.at.loop === corner.loop && chosen.at.corner === corner.corner;
  // The corner and the pointer where the drag began.
  const [drag, setDrag] = useState<{ x: number; y: number; z: number; r: number; from: HalfProfile } | null>(null);
  const dragged = (e: PointerEvent): HalfProfile | undefined =>
    drag ? moveCorner(drag.from, corner, [round(drag.z + (e.clientX - drag.x) / at.scale), round(drag.r - (e.clientY - drag.y) / at.scale)]) : undefined;
  return (
    <circle
      cx={at.sx(z)}
      cy={at.sy(r)}
      r={isChosen ? 6 : 4.5}
      className={`strip-corner ${isChosen ? 'chosen' : ''}`}
      tabIndex={0}
      role="button"
      aria-label={`Corner at z ${formatLength(z, unit)}, diameter ${formatLength(2 * r, unit)}`}
      onFocus={() => choose({ kind: 'corner', at: corner })}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        choose({ kind: 'corner', at: corner });
        setDrag({ x: e.clientX, y: e.clientY, z, r, from: profile });
      }}
      onPointerMove={(e) => {
        const next = dragged(e);
        if (next) show(next);
      }}
      onPointerUp={(e) => {
        const next = dragged(e);
        setDrag(null);
        if (next && drag && Math.hypot(e.clientX - drag.x, e.clientY - drag.y) > 2) take(next);
        else if (drag) show(drag.from);
      }}
      onKeyDown={(e) => {
        const step = e.shiftKey ? SMALL_STEP : STEP;
        const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[e.key];
        if (by) {
          e.preventDefault();
          // What is on the axis only moves along it.
          if (r > 0 || by[1] === 0) take(moveCorner(profile, corner, [round(z + by[0]), round(r + by[1])]));
        } else if (e.key === 'Delete' || e.key === 'Backspace') {
          e.preventDefault();
          choose(null);
          take(removeCorner(profile, corner));
        }
      }}
    />
  );
}

// A drag gives whole hundredths.
const round = (mm: number): number => Math.round(mm * 100) / 100;

/** What can be done with what is chosen: typed places, straighten, delete. */
export function ProfileTools({ editing, unit }: { editing: ProfileEditing; unit: LengthUnit }) {
  const { profile, isOn, setOn, chosen, choose, take, fault } = editing;
  if (!isOn)
    return (
      <div className="strip-tools">
        <Button size="compact-xs" variant="default" onClick={() => setOn(true)}>
          Change the profile
        </Button>
      </div>
    );
  const corner = chosen?.kind === 'corner' && profile[chosen.at.loop]?.[chosen.at.corner] ? chosen.at : null;
  const [z, r] = corner ? cornerOfProfile(profile, corner) : [0, 0];
  return (
    <div className="strip-tools" role="group" aria-label="Profile">
      {fault && <p className="strip-fault">{fault}</p>}
      {!corner && chosen?.kind !== 'piece' && !fault && <p className="ledger-hint">Drag a corner, or choose a corner or a piece.</p>}
      <Group gap={6} wrap="nowrap" align="end">
        {corner && (
          <>
            <NumberField
              kind="length"
              unit={unit}
              aria-label="Corner z"
              leftSection="z"
              value={z}
              w={122}
              onCommit={(v) => take(moveCorner(profile, corner, [v, r]))}
            />
            <NumberField
              kind="length"
              unit={unit}
              aria-label="Corner diameter"
              leftSection="⌀"
              value={2 * r}
              disabled={r === 0}
              min={0}
              w={122}
              onCommit={(v) => take(moveCorner(profile, corner, [z, v / 2]))}
            />
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => {
                choose(null);
                take(removeCorner(profile, corner));
              }}
            >
              Delete corner
            </Button>
          </>
        )}
        {chosen?.kind === 'piece' && (
          <Button size="compact-xs" variant="default" onClick={() => take(straightenPiece(profile, chosen.loop, chosen.index))}>
            Straighten
          </Button>
        )}
        <Button size="compact-xs" onClick={() => setOn(false)}>
          Done
        </Button>
      </Group>
    </div>
  );
}

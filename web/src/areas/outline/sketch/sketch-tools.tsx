import { Button, Group } from '@mantine/core';
import type { ReactNode } from 'react';
import { roundTo } from '#core/math';
import { type FlatPoint, flatDistance, type PathPiece } from '#core/outline';
import { bendPiece, chamferCorner, deleteCorner, filletCorner, placeOfName, splitPiece } from '#core/sketch';
import { formatLength, type LengthUnit } from '#core/units';
import { type NewConstraint, type SketchEditing, WORDS } from './use-sketch-editing.ts';

/** What can be done with what is chosen of an outline, and what can be said of it. */
export function SketchTools({ editing, unit, isTurned }: { editing: SketchEditing; unit: LengthUnit; isTurned: boolean }) {
  const { isOn, setOn, chosen, fault, freedoms } = editing;
  if (!isOn)
    return (
      <div className="strip-tools">
        <Button size="compact-xs" variant="default" onClick={() => setOn(true)}>
          Change the outline
        </Button>
      </div>
    );
  return (
    <div className="sketch-tools" role="group" aria-label="Change the outline">
      {fault && (
        <p className="strip-fault" role="alert">
          {fault}
        </p>
      )}
      <Group gap={6} wrap="wrap" justify="flex-end">
        {chosen.length === 0 && <span className="ledger-hint">Drag a corner, or choose corners and pieces (Shift adds one).</span>}
        {chosen.length === 1 && <OfOne editing={editing} isTurned={isTurned} />}
        {chosen.length === 2 && <OfTwo editing={editing} />}
        {freedoms !== null && (
          <span className="sketch-freedoms" role="status">
            {freedoms === 0 ? 'fully said' : `${freedoms} ${freedoms === 1 ? 'way' : 'ways'} to move`}
          </span>
        )}
        <Button size="compact-xs" onClick={() => setOn(false)}>
          Done
        </Button>
      </Group>
      <span className="visually-hidden">{chosen.map((c) => said(editing, c.name, unit)).join(', ')}</span>
    </div>
  );
}

const Tool = ({ onClick, children }: { onClick: () => void; children: ReactNode }) => (
  <Button size="compact-xs" variant="default" onClick={onClick}>
    {children}
  </Button>
);

function pieceOf({ now: { profile, sketch } }: SketchEditing, name: string): PathPiece {
  const at = placeOfName(sketch, name);
  if (!at) throw new Error(`sketch-tools.pieceOf: a piece of the outline; got ${name}`);
  return profile[at.loop][at.index];
}

function pieceBefore({ now: { profile, sketch } }: SketchEditing, name: string): PathPiece {
  const { loop, index } = placeOfName(sketch, name) ?? { loop: 0, index: 0 };
  return profile[loop].at(index - 1) ?? profile[loop][0];
}

const said = (editing: SketchEditing, name: string, unit: LengthUnit): string =>
  pieceOf(editing, name)
    .from.map((v) => formatLength(v, unit))
    .join(' ');

const tidy = (v: number): number => roundTo(v, 3);

function OfOne({ editing, isTurned }: { editing: SketchEditing; isTurned: boolean }) {
  const { chosen, now, take, addConstraint } = editing;
  const [{ kind, name }] = chosen;
  const piece = pieceOf(editing, name);
  if (kind === 'corner') {
    const before = pieceBefore(editing, name);
    const size = tidy(Math.min(2, flatDistance(piece.from, piece.to) / 3, flatDistance(before.from, before.to) / 3));
    return (
      <>
        {isTurned && piece.from[1] > 0 && (
          <Tool onClick={() => addConstraint({ kind: 'diameter', corner: name, value: tidy(2 * piece.from[1]) })}>Diameter</Tool>
        )}
        <Tool onClick={() => addConstraint({ kind: 'fixed', corner: name, at: [piece.from[0], piece.from[1]] })}>Stays there</Tool>
        <Tool onClick={() => take('Rounded a corner', filletCorner(now, name, size))}>Round it</Tool>
        <Tool onClick={() => take('Broke a corner', chamferCorner(now, name, size))}>Break it</Tool>
        <Tool onClick={() => take('Deleted a corner', deleteCorner(now, name))}>Delete it</Tool>
      </>
    );
  }
  const { from, to } = piece;
  const isLine = piece.kind === 'line';
  const deg = tidy((Math.atan2(to[1] - from[1], to[0] - from[0]) * 180) / Math.PI);
  return (
    <>
      {isLine && <Tool onClick={() => addConstraint({ kind: 'horizontal', piece: name })}>{WORDS.horizontal}</Tool>}
      {isLine && <Tool onClick={() => addConstraint({ kind: 'vertical', piece: name })}>{WORDS.vertical}</Tool>}
      {isLine && <Tool onClick={() => addConstraint({ kind: 'length', piece: name, value: tidy(flatDistance(from, to)) })}>{WORDS.length}</Tool>}
      {isLine && <Tool onClick={() => addConstraint({ kind: 'angle', piece: name, value: deg })}>Angle</Tool>}
      {!isLine && <Tool onClick={() => addConstraint({ kind: 'radius', piece: name, value: tidy(flatDistance(from, piece.centre)) })}>{WORDS.radius}</Tool>}
      <Tool onClick={() => take('Split a piece', splitPiece(now, name))}>Split it</Tool>
      <Tool onClick={() => take(isLine ? 'Bent a piece' : 'Straightened a piece', bendPiece(now, name))}>{isLine ? 'Bend it' : 'Straighten it'}</Tool>
    </>
  );
}

function OfTwo({ editing }: { editing: SketchEditing }) {
  const { chosen, addConstraint } = editing;
  const [a, b] = chosen;
  const say = (made: NewConstraint) => <Tool onClick={() => addConstraint(made)}>{WORDS[made.kind]}</Tool>;
  if (a.kind === 'corner' && b.kind === 'corner') {
    const [p, q]: FlatPoint[] = [pieceOf(editing, a.name).from, pieceOf(editing, b.name).from];
    return (
      <>
        {say({ kind: 'along', from: a.name, to: b.name, value: tidy(Math.abs(p[0] - q[0])) })}
        {say({ kind: 'across', from: a.name, to: b.name, value: tidy(Math.abs(p[1] - q[1])) })}
      </>
    );
  }
  if (a.kind !== 'piece' || b.kind !== 'piece') return <span className="ledger-hint">Choose two corners or two pieces.</span>;
  const [p, q] = [pieceOf(editing, a.name), pieceOf(editing, b.name)];
  const both = { first: a.name, second: b.name };
  return (
    <>
      {p.kind === 'line' && q.kind === 'line' && say({ kind: 'parallel', ...both })}
      {p.kind === 'line' && q.kind === 'line' && say({ kind: 'perpendicular', ...both })}
      {p.kind === q.kind && say({ kind: 'equal', ...both })}
      {(p.kind === 'arc' || q.kind === 'arc') && say({ kind: 'tangent', ...both })}
    </>
  );
}

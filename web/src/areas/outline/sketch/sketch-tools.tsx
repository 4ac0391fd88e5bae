import { Button, Group, SegmentedControl, Tooltip } from '@mantine/core';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { DrawingBar } from './drawing-bar.tsx';
import { type Asking, pieceOf } from './tools.ts';
import { DRAW_TOOLS, type DrawTool } from './use-drawing.ts';
import type { SketchEditing } from './use-sketch-editing.ts';
import type { SketchStage } from './use-sketch-stage.ts';

const TOOL_WORDS: Readonly<Record<DrawTool, string>> = {
  line: 'Line',
  tangent: 'Tangent arc',
  through: 'Arc through',
  centre: 'Arc about',
  rectangle: 'Rectangle',
  circle: 'Circle',
};

interface Props {
  readonly editing: SketchEditing;
  readonly stage: SketchStage;
  readonly unit: LengthUnit;
}

/** What can be drawn, what can be done with what is chosen of an outline, and what can be said of it. */
export function SketchTools({ editing, stage, unit }: Props) {
  const { drawing, tools, asking, setAsking } = stage;
  const { isOn, setOn, chosen, fault, freedoms } = editing;
  if (!isOn)
    return (
      <div className="strip-tools">
        <Button size="compact-xs" variant="default" onClick={() => setOn(true)}>
          {editing.now.profile.length === 0 ? 'Draw the outline' : 'Change the outline'}
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
        {drawing.tool ? (
          <DrawingBar drawing={drawing} unit={unit} />
        ) : asking ? (
          <AskedNumber asking={asking} unit={unit} onLeave={() => setAsking(null)} />
        ) : (
          <>
            {chosen.length === 0 && <span className="ledger-hint">Drag corners and pieces, or choose them: Shift adds one, a box several.</span>}
            {tools.map((t) => (
              <Tooltip key={t.label} label={[t.hint, t.key === 'Delete' ? 'Delete' : t.key.toUpperCase()].filter(Boolean).join(' · ')} openDelay={500}>
                <Button size="compact-xs" variant="default" onClick={() => setAsking(t.run() ?? null)}>
                  {t.label}
                </Button>
              </Tooltip>
            ))}
          </>
        )}
      </Group>
      <Group gap={8} wrap="wrap" justify="flex-end">
        {freedoms !== null && (
          <span className="sketch-freedoms" role="status">
            {freedoms === 0 ? 'fully said' : `${freedoms} ${freedoms === 1 ? 'way' : 'ways'} to move`}
          </span>
        )}
        <SegmentedControl
          size="xs"
          aria-label="Draw"
          data={[
            ...(editing.now.profile.length > 0 ? [{ value: 'choose', label: 'Choose' }] : []),
            ...DRAW_TOOLS.map((t) => ({ value: t, label: TOOL_WORDS[t] })),
          ]}
          value={drawing.tool ?? 'choose'}
          onChange={(v) => drawing.setTool(v === 'choose' ? null : (v as DrawTool))}
        />
        <Button size="compact-sm" onClick={() => setOn(false)}>
          Done
        </Button>
      </Group>
      <span className="visually-hidden">
        {chosen
          .map((c) =>
            pieceOf(editing, c.name)
              .from.map((v) => formatLength(v, unit))
              .join(' '),
          )
          .join(', ')}
      </span>
    </div>
  );
}

function AskedNumber({ asking, unit, onLeave }: { asking: Asking; unit: LengthUnit; onLeave: () => void }) {
  const isFactor = asking.label === 'Scale by';
  const take = (value: number) => {
    asking.take(value);
    onLeave();
  };
  return (
    <>
      <span className="drawing-next">{asking.label}</span>
      <NumberField
        {...(isFactor ? { kind: 'factor' as const, min: 0.001 } : { kind: 'length' as const, unit })}
        aria-label={asking.label}
        w={106}
        autoFocus
        value={asking.value}
        onCommit={take}
        onKeyUp={(e) => e.key === 'Escape' && onLeave()}
      />
      <Button size="compact-xs" onClick={() => take(asking.value)}>
        Do it
      </Button>
      <Button size="compact-xs" variant="default" onClick={onLeave}>
        Leave it
      </Button>
    </>
  );
}

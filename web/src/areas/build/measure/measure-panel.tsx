import { ActionIcon, Button, Paper, Tooltip } from '@mantine/core';
import { IconDimensions } from '@tabler/icons-react';
import type { Meant } from '#core/contact';
import { length } from '#core/math';
import { formatAngleDeg, formatLength, type LengthUnit } from '#core/units';
import { roundTo } from '#core/math';
import type { Measuring } from './use-measure.ts';

const WORDS: Readonly<Record<Meant, string>> = { point: 'corner', centre: 'centre', axis: 'axis', edge: 'edge', plane: 'plane', surface: 'surface' };

/** Switches measuring on and off. */
export function MeasureSwitch({ measuring: { isOn, onSwitch } }: { measuring: Measuring }) {
  return (
    <Tooltip label="Measure between two picks (M)" position="left">
      <ActionIcon className="stage-measure" variant={isOn ? 'filled' : 'default'} size="lg" aria-label="Measure" aria-pressed={isOn} onClick={onSwitch}>
        <IconDimensions size={18} />
      </ActionIcon>
    </Tooltip>
  );
}

/** What two picks are to each other, in numbers. */
export function MeasurePanel({ measuring: { picks, found, onAgain, onSwitch }, unit }: { measuring: Measuring; unit: LengthUnit }) {
  const mm = (v: number) => formatLength(v, unit);
  const rows: readonly (readonly [string, string, string?])[] = found
    ? [
        ...(found.by ? [['distance', mm(length(found.by)), found.between.map((m) => WORDS[m]).join(' to ')] as const] : []),
        ...(found.by
          ? ([
              ['along L', mm(found.by[2])],
              ['along Q', mm(found.by[0])],
              ['along Y', mm(found.by[1])],
            ] as const)
          : []),
        ...(found.angle === undefined ? [] : [['angle', formatAngleDeg(roundTo(found.angle, 3))] as const]),
        ['gap', mm(found.gap), 'the shortest way between the two, on the drawn triangles'],
      ]
    : [];
  return (
    <Paper className="picked-panel measure-panel" withBorder shadow="xs" role="group" aria-label="Measured">
      {!found && <div className="picked-arm">{picks.length === 0 ? 'Pick a face, an edge or a corner to measure from.' : 'Pick what to measure to.'}</div>}
      {found && (
        <>
          <div className="picked-arm">{found.between.map((m) => WORDS[m]).join(' to ')}</div>
          <table className="numbers-table">
            <tbody>
              {rows.map(([name, value, title]) => (
                <tr key={name} title={title}>
                  <th scope="row">{name}</th>
                  <td className="number">{value}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {!found.by && found.angle !== undefined && <div className="ledger-hint">Not parallel: there is no one distance.</div>}
        </>
      )}
      <div className="picked-offers">
        {picks.length > 0 && (
          <Button size="compact-xs" variant="default" onClick={onAgain}>
            Pick anew
          </Button>
        )}
        <Button size="compact-xs" variant="subtle" onClick={onSwitch}>
          Done
        </Button>
      </div>
    </Paper>
  );
}

import { ActionIcon, Button, Group, Popover, Select, Table, TextInput, UnstyledButton } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useState } from 'react';
import { type PlacedTip, placeTips, sayOfEdge } from '#core/assembly';
import type { AssemblyEdge, AssemblyRecord, ComponentRecord } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { changeAssembly } from '../../../app/store.ts';
import { WholeField } from '../../../common/whole-field.tsx';

interface Props {
  readonly record: AssemblyRecord;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly tips: readonly PlacedTip[];
  readonly unit: LengthUnit;
  /** While something is tried nothing is said of edges. */
  readonly isFixed: boolean;
  /** The next pick on the stage is what is programmed of this edge. */
  readonly onPickPoint: (tip: PlacedTip) => void;
}

/** The edges of an assembly: what each is called, the number of its offsets, and where it stands. */
export function EdgesTable({ record, components, tips, unit, isFixed, onPickPoint }: Props) {
  const mm = (v: number) => formatLength(v, unit);
  if (tips.length === 0) return null;
  return (
    <Table className="tip-table" horizontalSpacing={4} verticalSpacing={3}>
      <Table.Thead>
        <Table.Tr>
          <Table.Th>edge</Table.Th>
          <Table.Th title="number of its offsets on the control">no.</Table.Th>
          <Table.Th>L</Table.Th>
          <Table.Th>Q</Table.Th>
          <Table.Th title="height over the turning plane">Y</Table.Th>
        </Table.Tr>
      </Table.Thead>
      <Table.Tbody>
        {tips.map((t) => {
          const edge = record.edges.find((e) => e.pieceId === t.piece && e.tipId === t.tip);
          const own = components[record.pieces.find((p) => p.id === t.piece)?.componentId ?? ''];
          const name = edge?.name || `${own?.name ?? ''}${(own?.tips.length ?? 0) > 1 ? `, ${t.name}` : ''}`;
          return (
            <Table.Tr key={`${t.piece} ${t.tip}`}>
              <Table.Td className="tip-name">
                <EdgePopover {...{ record, components, name, unit, isFixed, onPickPoint }} tip={t} edge={edge} />
              </Table.Td>
              <Table.Td className="number">{edge?.number ?? '–'}</Table.Td>
              <Table.Td className="number">{mm(t.L)}</Table.Td>
              <Table.Td className="number">{mm(t.Q)}</Table.Td>
              <Table.Td className="number">{mm(t.Y)}</Table.Td>
            </Table.Tr>
          );
        })}
      </Table.Tbody>
    </Table>
  );
}

const POINTS = ['virtual tip', 'nose centre'] as const;

// What is programmed, each choice with what the edge would measure by it.
function ProgrammedPoint({
  record,
  components,
  tip,
  edge,
  unit,
  onSay,
  onPick,
}: Pick<PopoverProps, 'record' | 'components' | 'tip' | 'edge' | 'unit'> & { onSay: (point: AssemblyEdge['point']) => void; onPick: () => void }) {
  const mm = (v: number) => formatLength(v, unit);
  const by = (point: AssemblyEdge['point']) => {
    const found = placeTips({ ...record, edges: sayOfEdge(record.edges, tip, { point }) }, components).find((t) => t.piece === tip.piece && t.tip === tip.tip);
    return found ? `L ${mm(found.L)}  Q ${mm(found.Q)}` : '';
  };
  const picked = typeof edge?.point === 'object' ? edge.point : undefined;
  const data = [
    { value: 'tool', label: `as the tool’s, ${by(undefined)}` },
    ...POINTS.map((p) => ({ value: p, label: `${p}, ${by(p)}` })),
    ...(picked ? [{ value: 'picked', label: `${picked.name}, ${by(picked)}` }] : []),
  ];
  return (
    <>
      <Select
        size="xs"
        label="programmed point"
        data={data}
        allowDeselect={false}
        value={picked ? 'picked' : typeof edge?.point === 'string' ? edge.point : 'tool'}
        comboboxProps={{ withinPortal: false }}
        onChange={(v) => v !== 'picked' && onSay(POINTS.find((p) => p === v))}
      />
      <Button size="compact-xs" variant="default" onClick={onPick}>
        Pick it on the stage
      </Button>
    </>
  );
}

const SPINDLES = ['main', 'counter'] as const;

interface PopoverProps extends Omit<Props, 'tips'> {
  readonly tip: PlacedTip;
  readonly edge: AssemblyEdge | undefined;
  readonly name: string;
}

function EdgePopover({ record, components, tip, edge, name, unit, isFixed, onPickPoint }: PopoverProps) {
  const [open, setOpen] = useState(false);
  const sayEdge = (what: string, said: Partial<AssemblyEdge>) =>
    changeAssembly(record.id, `${what} of ${name}`, (r) => ({ edges: sayOfEdge(r.edges, tip, said) }));
  return (
    <Popover position="bottom-start" width={270} trapFocus opened={open} onChange={setOpen}>
      <Popover.Target>
        <UnstyledButton
          className="edge-name"
          disabled={isFixed}
          title="Name, offset number, sense and spindle"
          aria-label={`Edge ${name}`}
          onClick={() => setOpen(!open)}
        >
          {name}
        </UnstyledButton>
      </Popover.Target>
      <Popover.Dropdown>
        <div className="edge-fields">
          <TextInput
            size="xs"
            label="name of the edge"
            defaultValue={edge?.name ?? ''}
            maxLength={80}
            onBlur={(e) => e.currentTarget.value.trim() !== (edge?.name ?? '') && sayEdge('Name', { name: e.currentTarget.value.trim() })}
          />
          <Group gap={4} align="end" wrap="nowrap">
            <WholeField label="offset number" min={1} max={99_999} value={edge?.number} onCommit={(v) => sayEdge('Offset number', { number: v })} />
            {edge?.number !== undefined && (
              <ActionIcon variant="subtle" color="gray" aria-label="No offset number" onClick={() => sayEdge('Offset number', { number: undefined })}>
                <IconX size={14} />
              </ActionIcon>
            )}
          </Group>
          <Select
            size="xs"
            label="sense of the spindle"
            data={['M3', 'M4']}
            value={edge?.sense ?? null}
            placeholder="as the tool’s"
            clearable
            comboboxProps={{ withinPortal: false }}
            onChange={(v) => sayEdge('Sense', { sense: v === 'M3' || v === 'M4' ? v : undefined })}
          />
          <Select
            size="xs"
            label="works at the spindle"
            data={[...SPINDLES]}
            value={edge?.spindle ?? null}
            placeholder="not said"
            clearable
            comboboxProps={{ withinPortal: false }}
            onChange={(v) => sayEdge('Spindle', { spindle: SPINDLES.find((s) => s === v) })}
          />
          <ProgrammedPoint
            {...{ record, components, tip, edge, unit }}
            onSay={(point) => sayEdge('Programmed point', { point })}
            onPick={() => {
              setOpen(false);
              onPickPoint(tip);
            }}
          />
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}

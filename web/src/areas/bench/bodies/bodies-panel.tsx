import { ActionIcon, ColorPicker, Group, Paper, Popover, Select, Text, Tooltip } from '@mantine/core';
import { IconEye, IconEyeOff, IconFocus2 } from '@tabler/icons-react';
import { type BodyEntry, type ComponentRecord, roleSchema } from '#core/records';
import { ROLE_LOOK } from '../../../scene/bodies.tsx';
import { setBodyColour, setHidden, setRole, showOnly } from '../bench-actions.ts';

/** The bodies of a component: name, role, hide and show. */
export function BodiesPanel({ record }: { record: ComponentRecord }) {
  const anyHidden = record.bodies.some((b) => b.hidden);
  return (
    <Paper className="bodies-panel" withBorder shadow="xs" role="group" aria-label="Bodies">
      <Group justify="space-between" mb={6}>
        <Text fw={650} size="sm">
          Bodies
        </Text>
        {anyHidden && (
          <button type="button" className="text-button" onClick={() => showOnly(record.id, null)}>
            show all
          </button>
        )}
      </Group>
      <div className="bodies-list">
        {record.bodies.map((body) => (
          <div key={body.id} className="body-row" data-hidden={body.hidden || undefined}>
            <ColourChoice record={record} body={body} />
            <Tooltip label={`${body.id}, named "${body.name}" in the file`} openDelay={500}>
              <Text size="sm" truncate className="body-name">
                {body.name}
              </Text>
            </Tooltip>
            <Select
              size="xs"
              w={108}
              aria-label={`Role of ${body.name}`}
              data={roleSchema.options}
              value={body.role}
              allowDeselect={false}
              onChange={(role) => role && setRole(record.id, body.id, role)}
              comboboxProps={{ width: 130 }}
            />
            <ActionIcon size="sm" variant="subtle" color="gray" aria-label={`Show only ${body.name}`} onClick={() => showOnly(record.id, body.id)}>
              <IconFocus2 size={15} />
            </ActionIcon>
            <ActionIcon
              size="sm"
              variant="subtle"
              color="gray"
              aria-label={`${body.hidden ? 'Show' : 'Hide'} ${body.name}`}
              onClick={() => setHidden(record.id, body.id, !body.hidden)}
            >
              {body.hidden ? <IconEyeOff size={15} /> : <IconEye size={15} />}
            </ActionIcon>
          </div>
        ))}
      </div>
    </Paper>
  );
}

export const SWATCHES = ['#5f6f7a', '#2f3337', '#b7bdc2', '#b58a2a', '#9b5a2e', '#3a6ea5', '#3f7d58', '#7a4f8f', '#d9d2c3', '#a43b2d'];

// The swatch before a body: its role's colour, or one of its own.
function ColourChoice({ record, body }: { record: ComponentRecord; body: BodyEntry }) {
  return (
    <Popover position="right-start" withArrow shadow="md">
      <Popover.Target>
        <button
          type="button"
          className="role-swatch"
          aria-label={`Colour of ${body.name}`}
          style={{ background: body.ownColour ?? ROLE_LOOK[body.role].colour }}
        />
      </Popover.Target>
      <Popover.Dropdown>
        <ColorPicker
          size="xs"
          swatches={SWATCHES}
          value={body.ownColour ?? ROLE_LOOK[body.role].colour}
          onChangeEnd={(c) => setBodyColour(record.id, body.id, c)}
        />
        <button type="button" className="text-button" onClick={() => setBodyColour(record.id, body.id, undefined)}>
          by its role
        </button>
      </Popover.Dropdown>
    </Popover>
  );
}

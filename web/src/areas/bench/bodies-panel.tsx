import { ActionIcon, Group, Paper, Select, Text, Tooltip } from '@mantine/core';
import { IconEye, IconEyeOff, IconFocus2 } from '@tabler/icons-react';
import { type ComponentRecord, roleSchema } from '#core/records';
import { ROLE_LOOK } from '../../scene/bodies.tsx';
import { setHidden, setRole, showOnly } from './bench-actions.ts';

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
            <span className="role-swatch" style={{ background: ROLE_LOOK[body.role].colour }} aria-hidden />
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

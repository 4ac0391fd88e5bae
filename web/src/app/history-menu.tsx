import { ActionIcon, Group, Menu, Text, Tooltip } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { IconArrowBackUp, IconArrowForwardUp, IconHistory } from '@tabler/icons-react';
import { redone, undone } from './library-slice.ts';
import { useAppDispatch, useAppSelector } from './store.ts';

/** Undo, redo and the readable list of what was done; Ctrl+Z and Ctrl+Y everywhere outside of text fields. */
export function HistoryMenu() {
  const dispatch = useAppDispatch();
  const past = useAppSelector((s) => s.library.past);
  const future = useAppSelector((s) => s.library.future);
  useHotkeys([
    ['mod+Z', () => dispatch(undone())],
    ['mod+Y', () => dispatch(redone())],
    ['mod+shift+Z', () => dispatch(redone())],
  ]);
  const back = (steps: number) => {
    for (let i = 0; i < steps; i++) dispatch(undone());
  };
  return (
    <Group gap={2} wrap="nowrap">
      <Tooltip label={past.length > 0 ? `Undo: ${past.at(-1)?.label} (Ctrl+Z)` : 'Nothing to undo'}>
        <ActionIcon variant="subtle" color="gray" size="lg" aria-label="Undo" disabled={past.length === 0} onClick={() => dispatch(undone())}>
          <IconArrowBackUp size={18} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label={future.length > 0 ? `Redo: ${future[0].label} (Ctrl+Y)` : 'Nothing to redo'}>
        <ActionIcon variant="subtle" color="gray" size="lg" aria-label="Redo" disabled={future.length === 0} onClick={() => dispatch(redone())}>
          <IconArrowForwardUp size={18} />
        </ActionIcon>
      </Tooltip>
      <Menu position="bottom-end" width={300} disabled={past.length === 0}>
        <Menu.Target>
          <ActionIcon variant="subtle" color="gray" size="lg" aria-label="History" disabled={past.length === 0}>
            <IconHistory size={18} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown mah={420} style={{ overflowY: 'auto' }}>
          <Menu.Label>Go back to before…</Menu.Label>
          {[...past].reverse().map((change, i) => (
            <Menu.Item key={change.id} onClick={() => back(i + 1)}>
              <Group justify="space-between" wrap="nowrap" gap="md">
                <Text size="sm" truncate>
                  {change.label}
                </Text>
                <Text size="xs" c="dimmed">
                  {new Date(change.at).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })}
                </Text>
              </Group>
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
    </Group>
  );
}

import { notifications } from '@mantine/notifications';
import { Text } from '@mantine/core';
import { type Issue, sayHelp, sayWhat } from '#core/issues';

/** Says what went wrong and what would help; stays until it is closed. */
export function showIssues(title: string, issues: readonly Issue[]): void {
  notifications.show({
    color: 'brick',
    title: `${title} did not work`,
    autoClose: false,
    withCloseButton: true,
    message: issues.slice(0, 3).map((i) => (
      <div key={sayWhat(i)}>
        <Text size="sm">{sayWhat(i)}</Text>
        <Text size="sm" c="dimmed">
          {sayHelp(i)}
        </Text>
      </div>
    )),
  });
}

export function showWarnings(title: string, issues: readonly Issue[]): void {
  if (issues.length === 0) return;
  notifications.show({ color: 'ochre', title, autoClose: 12_000, message: issues.slice(0, 4).map((i) => <div key={sayWhat(i)}>{sayWhat(i)}</div>) });
}

export function showDone(message: string): void {
  notifications.show({ color: 'verdigris', message, autoClose: 5000 });
}

export function showProblem(message: string): void {
  notifications.show({ color: 'brick', message, autoClose: false });
}

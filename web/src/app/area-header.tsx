import { Group, TextInput } from '@mantine/core';
import { type ReactNode, useEffect, useState } from 'react';
import { HistoryMenu } from './history-menu.tsx';

// In widths of a digit: capitals are wider.
const wide = (text: string): number => [...text].reduce((sum, c) => sum + (/[A-ZÄÖÜ]/.test(c) ? 1.3 : 1), 0);

/** The line above an area: what is open, what is known of it, undo, and the area's own actions. */
export function AreaHeader({ title, onRename, note, children }: { title: string; onRename?: (name: string) => void; note?: ReactNode; children?: ReactNode }) {
  return (
    <header className="area-header">
      <Group gap="sm" wrap="nowrap" style={{ minWidth: 0 }}>
        <h1 className={onRename ? 'visually-hidden' : undefined}>{title}</h1>
        {onRename && <TitleField key={title} title={title} onRename={onRename} />}
        <span className="area-note">{note}</span>
      </Group>
      <Group gap="xs" wrap="nowrap">
        <HistoryMenu />
        {children}
      </Group>
    </header>
  );
}

function TitleField({ title, onRename }: { title: string; onRename: (name: string) => void }) {
  const [text, setText] = useState(title);
  useEffect(() => setText(title), [title]);
  const commit = () => (text.trim() ? onRename(text) : setText(title));
  return (
    <TextInput
      variant="unstyled"
      aria-label="Name"
      classNames={{ input: 'title-input' }}
      value={text}
      maxLength={200}
      style={{ width: `${Math.min(34, Math.max(8, wide(text) + 1))}ch` }}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') setText(title);
      }}
    />
  );
}

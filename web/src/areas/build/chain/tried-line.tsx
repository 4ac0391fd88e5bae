import { Button, Group } from '@mantine/core';
import { changeChain } from '../../../store/shelf-actions.ts';
import type { Tried } from '../tried.ts';

/** What is tried: what it costs, and to take it or leave it. */
export function TriedLine({ tried, onEnd }: { tried: Tried; onEnd: () => void }) {
  const { of, label, coming, change } = tried;
  const take = () => {
    changeChain(of.id, coming, label, () => ({ pieces: change.pieces, edges: change.edges }));
    onEnd();
  };
  return (
    <section className="tried-line" aria-label="Tried">
      <p>
        <b>{label}</b>: shown, not taken yet.
      </p>
      {change.lost.map((l) => (
        <p key={l.pieceId} className="ledger-hint warn">
          {l.name} no longer fits and would be taken out: {l.why}.
        </p>
      ))}
      {change.notes.map((n) => (
        <p key={n} className="ledger-hint">
          {n}
        </p>
      ))}
      <Group gap={6}>
        <Button size="compact-sm" onClick={take} autoFocus>
          Take it
        </Button>
        <Button size="compact-sm" variant="default" onClick={onEnd}>
          Leave it
        </Button>
      </Group>
    </section>
  );
}

import { type Check, worstFirst } from '#core/records';

/** Checks as a list, the worst first. */
export function CheckList({ checks }: { checks: readonly Check[] }) {
  return (
    <ul className="checks">
      {worstFirst(checks).map((c, i) => (
        <li key={`${c.code} ${c.message} ${i}`} className={c.state}>
          <span className={`ledger-mark ${c.state === 'pass' ? 'set' : c.state}`} role="img" aria-label={c.state} />
          {c.message}
        </li>
      ))}
    </ul>
  );
}

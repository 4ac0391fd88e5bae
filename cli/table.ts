/** A plain table: columns as wide as their longest cell; control characters of foreign names are dropped. */
export function table(head: readonly string[], rows: readonly (readonly string[])[]): string {
  const clean = [head, ...rows].map((row) => row.map((cell) => cell.replace(/\p{Cc}/gu, ' ')));
  const widths = head.map((_, i) => Math.max(...clean.map((row) => (row[i] ?? '').length)));
  return clean
    .map((row) =>
      row
        .map((cell, i) => cell.padEnd(widths[i]))
        .join('  ')
        .trimEnd(),
    )
    .join('\n');
}

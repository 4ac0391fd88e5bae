/** What bodies are called: what has no name by its place among them, and names that several have, as those of one part do, with a number. */
export function bodyNames(given: readonly string[]): string[] {
  const names = given.map((name, i) => name || `Body ${i + 1}`);
  const seen = new Map<string, number>();
  return names.map((name) => {
    if (names.indexOf(name) === names.lastIndexOf(name)) return name;
    const n = (seen.get(name) ?? 0) + 1;
    seen.set(name, n);
    return `${name} ${n}`;
  });
}

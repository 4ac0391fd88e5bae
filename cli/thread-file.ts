/** The script of a thread: beside the bundled program, or, where the sources are run, one that asks for TypeScript by name. */
export const threadFile = (name: 'worker' | 'hand'): URL =>
  import.meta.url.endsWith('.ts') ? new URL(`./${name}.mjs`, import.meta.url) : new URL(`./${name}.js`, import.meta.url);

const AREAS = {
  component: 'bench',
  outline: 'outline',
  assembly: 'build',
  table: 'shelf',
  set: 'shelf',
  shelf: 'shelf',
  'set-up': 'carrier',
  machine: 'carrier',
  trial: 'trial',
} as const;

/** Where a record, or a table of tools, is worked on. */
export const placeOf = ({ kind, id }: { readonly kind: keyof typeof AREAS; readonly id: string }): string =>
  id === '' ? `/${AREAS[kind]}` : `/${AREAS[kind]}/${id}`;

const AREAS = { component: 'bench', outline: 'outline', assembly: 'build' } as const;

/** Where a record is worked on. */
export const placeOf = ({ kind, id }: { readonly kind: keyof typeof AREAS; readonly id: string }): string => `/${AREAS[kind]}/${id}`;

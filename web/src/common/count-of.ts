/** A count in words: "1 piece", "3 assemblies". */
export const countOf = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;

/** How many pieces an assembly has, in words. */
export const sayPieces = ({ pieces }: { readonly pieces: readonly unknown[] }): string => countOf(pieces.length, 'piece');

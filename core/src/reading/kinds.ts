export const READING_KINDS = ['turning', 'boring', 'grooving', 'rotating', 'block', 'auto'] as const;
export type ReadingKind = (typeof READING_KINDS)[number];

/** What a model was read as: an outside turning tool, a boring bar, a holder that spins, and so on. */
export type ReadKind = Exclude<ReadingKind, 'auto'> | 'threading' | 'cutter' | 'adapter' | 'insert';

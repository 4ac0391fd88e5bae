/**
 * Which bores stay open. `closed`: none. `open`: all that reach an end. `work` and `machine`: what opens towards the work (larger z) or towards
 * the machine; of a bore that goes through, the part up to its narrowest place.
 */
export const BORE_CHOICES = ['closed', 'open', 'work', 'machine'] as const;
export type BoreChoice = (typeof BORE_CHOICES)[number];

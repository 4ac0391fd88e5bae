import type { SpecKind } from '../spec-schema.ts';

/** How many teeth a milling cutter of a diameter (mm) usually has; of other kinds nobody asks. */
export function usualTeeth(kind: SpecKind, diameter: number): number | undefined {
  switch (kind) {
    case 'end mill':
    case 'tapered mill':
      return diameter < 2.5 ? 2 : diameter < 22 ? 4 : 6;
    case 'ball end mill':
      return 2;
    case 'chamfer mill':
    case 'thread mill':
      return diameter < 6 ? 3 : 4;
    case 'dovetail mill':
    case 'woodruff cutter':
    case 'T-slot cutter':
      return diameter < 12 ? 4 : diameter < 25 ? 6 : 8;
    case 'face mill':
      // One insert for every 12.5 mm, three at least.
      return Math.max(3, Math.round(diameter / 12.5));
    case 'slot cutter':
      return Math.max(8, Math.round(diameter / 2));
    default:
      return undefined;
  }
}

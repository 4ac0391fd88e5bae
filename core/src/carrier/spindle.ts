import type { Blank, Spindle } from '#core/records';

/** Where the jaws of a spindle end, in its own turning plane: mm from the nose face. */
export const jawFront = ({ chuck }: Pick<Spindle, 'chuck'>): number => chuck.length + chuck.jawHeight;

/** The work in a spindle: what the set-up says, else as wide and long as is usually gripped. */
export const workIn = ({ chuck }: Pick<Spindle, 'chuck'>, blank: Blank | null): Blank => blank ?? { diameter: chuck.gripped, bore: 0, length: chuck.gripped };

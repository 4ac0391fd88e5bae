/** A number as it stands in a name. */
export const tidy = (v: number): string => String(Math.round(v * 1000) / 1000);

/** What is not drawn of tools with flutes. */
export const FLUTES = 'flutes: it is as wide as it cuts all the way round';

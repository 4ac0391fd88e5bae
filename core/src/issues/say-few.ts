/** The first `most` of some names, and how many more there are. */
export const sayFew = (names: readonly string[], most = 6): string =>
  `${names.slice(0, most).join(', ')}${names.length > most ? ` and ${names.length - most} more` : ''}`;

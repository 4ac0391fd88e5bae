import { TOOL_LENGTHS } from '#core/standards';
import { MM_PER_INCH } from '#core/units';
import type { SpecKind } from '../spec-schema.ts';
import type { ValueName } from '../values.ts';

/** What a code of the trade says that no standard's reader knows: threading inserts and their holders. */
export interface TradeCode {
  readonly kind: SpecKind;
  readonly hand: 'right' | 'left';
  readonly inside: boolean;
  readonly values: Readonly<Partial<Record<ValueName, number>>>;
  readonly as: string;
  readonly length: number;
}

// mm. Pitches from which the letters of partial profiles on begin.
const PARTIAL: Readonly<Record<string, number>> = { a: 0.5, ag: 0.5, g: 1.75, n: 3.5, q: 5.5 };
const INSERT = /^(06|08|11|16|22|27)\s*([ei])([rl])(?:\s*-?\s*(?:(ag|a|g|n|q)\s*-?\s*(60|55)|(\d+(?:[.,]\d+)?)\s*(iso|un|w|npt|bspt)?))?(?![\w.])/;
const HOLDER = /^s([ei])([rl])\s*(\d{2})(\d{2})\s*([a-hj-np-y])\s*(06|08|11|16|22|27)(?![\w.])/;

/** The code that words begin with; small letters. */
export function tradeCodeIn(text: string): TradeCode | undefined {
  const i = INSERT.exec(text);
  if (i) {
    const [whole, edge, side, hand, partial, angle, pitch, profile] = i;
    const perInch = profile === 'un' || profile === 'w' || profile === 'npt' || profile === 'bspt';
    const given = pitch === undefined ? undefined : Number(pitch.replace(',', '.'));
    const tp = partial !== undefined ? PARTIAL[partial] : given === undefined ? undefined : perInch ? round(MM_PER_INCH / given) : given;
    const eps = partial !== undefined ? Number(angle) : profile === 'w' || profile === 'bspt' ? 55 : 60;
    return {
      kind: 'threading insert',
      ...sideOf(side, hand),
      values: { L: Number(edge), EPSR: eps, ...(tp === undefined ? {} : { TP: tp }) },
      as: `threading insert ${side === 'i' ? 'inside' : 'outside'}, edge ${Number(edge)} mm${partial === undefined ? '' : `, partial profile of ${eps} degrees from ${tp} mm on`}`,
      length: whole.length,
    };
  }
  const h = HOLDER.exec(text);
  if (!h) return undefined;
  const [whole, side, hand, high, wide, long, edge] = h;
  const lf = TOOL_LENGTHS[long.toUpperCase()];
  const inside = side === 'i';
  // Of a bar the first two digits are 00.
  if (inside !== (high === '00')) return undefined;
  return {
    kind: 'threading holder',
    ...sideOf(side, hand),
    values: { ...(inside ? { DCON: Number(wide) } : { H: Number(high), B: Number(wide) }), L: Number(edge), ...(lf === undefined ? {} : { LF: lf }) },
    as: `threading ${inside ? 'bar' : 'holder'}, ${hand === 'r' ? 'right' : 'left'} hand, insert ${Number(edge)}`,
    length: whole.length,
  };
}

const sideOf = (side: string, hand: string) => ({ inside: side === 'i', hand: hand === 'l' ? ('left' as const) : ('right' as const) });
const round = (v: number): number => Math.round(v * 1e6) / 1e6;

import type { Operation, OperationKind } from '#core/trial';

/** A value of an operation that a person sets: a length, a number with its unit, or a choice. Limits are those of the operation itself. */
export type CutField =
  | { readonly key: string; readonly label: string; readonly kind: 'length'; readonly isOptional?: boolean; readonly least: number; readonly most: number }
  | {
      readonly key: string;
      readonly label: string;
      readonly kind: 'plain';
      readonly mark: string;
      readonly digits: number;
      readonly least: number;
      readonly most: number;
      readonly isOptional?: boolean;
    }
  | { readonly key: string; readonly label: string; readonly kind: 'choice'; readonly data: readonly { readonly value: string; readonly label: string }[] }
  | { readonly key: string; readonly label: string; readonly kind: 'yes' };

const lengthField = (key: string, label: string, least: number, most: number, isOptional = false): CutField => ({
  key,
  label,
  kind: 'length',
  least,
  most,
  isOptional,
});
const placeField = (key: string, label: string, isOptional = false): CutField => lengthField(key, label, -5000, 5000, isOptional);
const perTurn = (key: string, label: string): CutField => ({ key, label, kind: 'plain', mark: 'mm/rev', digits: 3, least: 0.001, most: 50 });
const choice = (key: string, label: string, ...data: readonly (readonly [value: string, label: string])[]): CutField => ({
  key,
  label,
  kind: 'choice',
  data: data.map(([value, said]) => ({ value, label: said })),
});

const FEED = perTurn('feed', 'feed');
const SPEED: CutField = { key: 'surfaceSpeed', label: 'surface speed', kind: 'plain', mark: 'm/min', digits: 0, least: 1, most: 5000 };
const DEPTH = lengthField('depthOfCut', 'depth of cut', 0.01, 50);
const ALLOWANCE = lengthField('allowance', 'left for the finish', 0, 20);
const SIDES = [
  ['outside', 'outside'],
  ['inside', 'inside'],
] as const;
const RANGE: readonly CutField[] = [placeField('from', 'from Z', true), placeField('to', 'to Z', true)];

/** What is set of each kind of cut, in the order in which it is asked. */
export const CUT_FIELDS: Readonly<Record<OperationKind, readonly CutField[]>> = {
  face: [DEPTH, FEED, SPEED],
  turn: [
    choice('side', 'side', ...SIDES),
    choice('rough', 'rough', ['axis', 'along the axis'], ['contour', 'along the part'], ['none', 'not']),
    DEPTH,
    ALLOWANCE,
    FEED,
    { key: 'finish', label: 'finish along the part', kind: 'yes' },
    perTurn('finishFeed', 'finish feed'),
    SPEED,
    choice('towards', 'feeds', ['chuck', 'to the chuck'], ['tailstock', 'away from it']),
    ...RANGE,
  ],
  groove: [
    choice('side', 'side', ...SIDES, ['face', 'face']),
    ALLOWANCE,
    FEED,
    { key: 'finish', label: 'finish along the walls', kind: 'yes' },
    SPEED,
    ...RANGE,
  ],
  'part off': [placeField('at', 'end of the part, Z', true), FEED, SPEED],
  drill: [lengthField('depth', 'depth of its point', 0.01, 5000, true), lengthField('peck', 'draws back after', 0.01, 5000, true), FEED, SPEED],
  thread: [
    choice('side', 'side', ...SIDES),
    lengthField('pitch', 'pitch', 0.05, 50),
    placeField('from', 'from Z'),
    placeField('to', 'to Z'),
    lengthField('depth', 'depth on radius', 0.01, 50, true),
    { key: 'passes', label: 'passes', kind: 'plain', mark: '', digits: 0, least: 1, most: 50, isOptional: true },
    SPEED,
  ],
};

/** A value of an operation by its name; undefined where it has none. */
export const valueOf = (op: Operation, key: string): unknown => (op as Readonly<Record<string, unknown>>)[key];

/** Whether a value matters for a cut as it is set: how deep a rough cut goes does not where none is made. */
export function isAsked(op: Operation, { key }: CutField): boolean {
  if (op.kind === 'turn' && op.rough === 'none') return key !== 'depthOfCut' && key !== 'allowance' && key !== 'feed';
  if (op.kind === 'turn' && !op.finish) return key !== 'finishFeed';
  return true;
}

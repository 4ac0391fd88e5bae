import type { Operation, OperationKind } from '#core/trial';

/** A value of an operation that a person sets: a length, a number with its unit, or a choice. */
export type CutField =
  | { readonly key: string; readonly label: string; readonly kind: 'length'; readonly isOptional?: boolean; readonly least?: number }
  | {
      readonly key: string;
      readonly label: string;
      readonly kind: 'plain';
      readonly mark: string;
      readonly digits: number;
      readonly most: number;
      readonly isOptional?: boolean;
    }
  | { readonly key: string; readonly label: string; readonly kind: 'choice'; readonly data: readonly { readonly value: string; readonly label: string }[] }
  | { readonly key: string; readonly label: string; readonly kind: 'yes' };

const FEED: CutField = { key: 'feed', label: 'feed', kind: 'plain', mark: 'mm/rev', digits: 3, most: 50 };
const SPEED: CutField = { key: 'surfaceSpeed', label: 'surface speed', kind: 'plain', mark: 'm/min', digits: 0, most: 5000 };
const DEPTH: CutField = { key: 'depthOfCut', label: 'depth of cut', kind: 'length', least: 0.01 };
const ALLOWANCE: CutField = { key: 'allowance', label: 'left for the finish', kind: 'length', least: 0 };
const SIDE: CutField = {
  key: 'side',
  label: 'side',
  kind: 'choice',
  data: [
    { value: 'outside', label: 'outside' },
    { value: 'inside', label: 'inside' },
  ],
};
const RANGE: readonly CutField[] = [
  { key: 'from', label: 'from Z', kind: 'length', isOptional: true },
  { key: 'to', label: 'to Z', kind: 'length', isOptional: true },
];

/** What is set of each kind of cut, in the order in which it is asked. */
export const CUT_FIELDS: Readonly<Record<OperationKind, readonly CutField[]>> = {
  face: [DEPTH, FEED, SPEED],
  turn: [
    SIDE,
    {
      key: 'rough',
      label: 'rough',
      kind: 'choice',
      data: [
        { value: 'axis', label: 'along the axis' },
        { value: 'contour', label: 'along the part' },
        { value: 'none', label: 'not' },
      ],
    },
    DEPTH,
    ALLOWANCE,
    FEED,
    { key: 'finish', label: 'finish along the part', kind: 'yes' },
    { key: 'finishFeed', label: 'finish feed', kind: 'plain', mark: 'mm/rev', digits: 3, most: 50 },
    SPEED,
    {
      key: 'towards',
      label: 'feeds',
      kind: 'choice',
      data: [
        { value: 'chuck', label: 'to the chuck' },
        { value: 'tailstock', label: 'away from it' },
      ],
    },
    ...RANGE,
  ],
  groove: [
    {
      key: 'side',
      label: 'side',
      kind: 'choice',
      data: [
        { value: 'outside', label: 'outside' },
        { value: 'inside', label: 'inside' },
        { value: 'face', label: 'face' },
      ],
    },
    ALLOWANCE,
    FEED,
    { key: 'finish', label: 'finish along the walls', kind: 'yes' },
    SPEED,
    ...RANGE,
  ],
  'part off': [{ key: 'at', label: 'end of the part, Z', kind: 'length', isOptional: true }, FEED, SPEED],
  drill: [
    { key: 'depth', label: 'depth of its point', kind: 'length', isOptional: true, least: 0.01 },
    { key: 'peck', label: 'draws back after', kind: 'length', isOptional: true, least: 0.01 },
    FEED,
    SPEED,
  ],
  thread: [
    SIDE,
    { key: 'pitch', label: 'pitch', kind: 'length', least: 0.05 },
    { key: 'from', label: 'from Z', kind: 'length' },
    { key: 'to', label: 'to Z', kind: 'length' },
    { key: 'depth', label: 'depth on radius', kind: 'length', isOptional: true, least: 0.01 },
    { key: 'passes', label: 'passes', kind: 'plain', mark: '', digits: 0, most: 50, isOptional: true },
    SPEED,
  ],
};

/** A value of an operation by its name; undefined where it has none. */
export const valueOf = (op: Operation, key: string): unknown => (op as Readonly<Record<string, unknown>>)[key];

/** What a cut has nothing of as it is set: how deep a rough cut goes where none is made. */
export function isAsked(op: Operation, { key }: CutField): boolean {
  if (op.kind === 'turn' && op.rough === 'none') return key !== 'depthOfCut' && key !== 'allowance' && key !== 'feed' && key !== 'towards';
  if (op.kind === 'turn' && !op.finish) return key !== 'finishFeed';
  return true;
}

import { type Motion, move, type Vec3 } from '#core/math';
import { type BodyGeometry, cornerOf, type Model } from '#core/mesh';
import type { BodyRole } from '#core/records';

/** A model on the stage: where it stands, and how its bodies are to look. */
export interface StageItem {
  readonly key: string;
  readonly model: Model;
  readonly stageFromModel: Motion;
  readonly roles: Readonly<Record<string, BodyRole>>;
  readonly hidden: ReadonlySet<string>;
  /** It stands aside: the view is not fitted to it. */
  readonly aside?: boolean;
  /** Colours that a person gave, by body; and faces with a colour of their own. */
  readonly colours?: Readonly<Record<string, string>>;
  readonly faceColours?: readonly { readonly body: string; readonly faces: readonly number[]; readonly colour: string }[];
}

/** Something on the stage that can be pointed at. */
export interface PickRef {
  readonly item: string;
  readonly body: string;
  readonly kind: 'face' | 'edge' | 'corner';
  readonly index: number;
}

/** What lies under the pointer, nearest first: `point` on the stage. */
export interface Candidate extends PickRef {
  readonly point: Vec3;
}

export const samePick = (a: PickRef, b: PickRef): boolean => a.item === b.item && a.body === b.body && a.kind === b.kind && a.index === b.index;

export function bodyOf(items: readonly StageItem[], pick: PickRef): { item: StageItem; body: BodyGeometry } | undefined {
  const item = items.find((i) => i.key === pick.item);
  const body = item?.model.bodies.find((b) => b.id === pick.body);
  return item && body ? { item, body } : undefined;
}

/** The point that a pick stands for, on the stage: a corner, the centre of a round edge, or where it was pointed at. */
export function placeOf(items: readonly StageItem[], pick: Candidate): Vec3 {
  const found = bodyOf(items, pick);
  const curve = pick.kind === 'edge' ? found?.body.edges[pick.index].curve : undefined;
  if (found && pick.kind === 'corner') return move(found.item.stageFromModel, cornerOf(found.body, pick.index));
  return found && curve?.kind === 'circle' ? move(found.item.stageFromModel, curve.centre) : pick.point;
}

import type { ComponentRecord } from '#core/records';
import { followOutline, isUpToDate, shapeOfOutline } from '#core/sources';
import { componentsFollowed } from '../app/library-slice.ts';
import { showProblem } from '../app/notify.tsx';
import { selectComponent, selectComponents, selectOutline, store } from '../app/store.ts';
import { makeShapeModel } from './outline-actions.ts';

// ms that an outline must rest: while it is changed on, its component waits.
const REST_MS = 500;

/** Keeps components like the outlines that they were made of: what follows is no step of the history, for it follows every step back as well. */
export function startFollowing(): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let records: unknown;
  let isBusy = false;
  // What could not be made is not tried again until it has changed.
  const failed = new Set<string>();
  const catchUp = async () => {
    if (isBusy) return;
    isBusy = true;
    try {
      for (;;) {
        const next = selectComponents(store.getState()).find((c) => isOurs(c) && behind(c) && !failed.has(attemptOf(c)));
        if (!next) return;
        const attempt = attemptOf(next);
        if (!(await follow(next))) failed.add(attempt);
      }
    } finally {
      isBusy = false;
    }
  };
  return store.subscribe(() => {
    const { library } = store.getState();
    if (!library.loaded || library.records === records) return;
    records = library.records;
    clearTimeout(timer);
    timer = setTimeout(() => void catchUp(), REST_MS);
  });
}

const outlineOf = (c: ComponentRecord) => (c.source.kind === 'outline' ? selectOutline(store.getState(), c.source.outline) : undefined);

const attemptOf = (c: ComponentRecord): string => `${c.id} ${outlineOf(c)?.changedAt ?? ''}`;

// This tab has changed its outline: another one that sees the change leaves it to this, or both would write the same component.
function isOurs({ source }: ComponentRecord): boolean {
  const { past, future } = store.getState().library;
  return source.kind === 'outline' && [...past, ...future].some((c) => source.outline in c.after);
}

// Its outline has a shape, and another one than it has.
function behind(c: ComponentRecord): boolean {
  const outline = outlineOf(c);
  if (!outline || outline.fault !== null) return false;
  const shape = shapeOfOutline(outline);
  return shape.ok && !isUpToDate(c, outline, shape.value);
}

async function follow(component: ComponentRecord): Promise<boolean> {
  const outline = outlineOf(component);
  const shape = outline && shapeOfOutline(outline);
  if (!shape?.ok) return false;
  const made = await makeShapeModel(shape.value, outline?.name ?? component.name);
  const now = selectComponent(store.getState(), component.id);
  const current = now && outlineOf(now);
  if (!made || !now || !current) return false;
  // Changed on meanwhile: the next turn makes that.
  if (current !== outline) return true;
  const { record, lost } = followOutline(now, current, shape.value, made.blob, made.made);
  store.dispatch(componentsFollowed({ [now.id]: record }));
  if (lost.length > 0) showProblem(`${now.name} followed its outline. No longer there: ${lost.join('; ')}.`);
  return true;
}

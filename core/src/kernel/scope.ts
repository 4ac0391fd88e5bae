/** Anything of the kernel that must be given back. */
export interface KernelHandle {
  delete(): void;
}

export type Own = <H extends KernelHandle>(handle: H) => H;

let live = 0;

/** How many kernel handles are held by open scopes; tests check that it returns to what it was. */
export const liveHandleCount = (): number => live;

/** Runs `body`; every handle passed through `own` is freed when it ends, newest first, also after a throw. */
export function withScope<T>(body: (own: Own) => T): T {
  const handles: KernelHandle[] = [];
  try {
    return body((handle) => {
      handles.push(handle);
      live++;
      return handle;
    });
  } finally {
    for (let i = handles.length - 1; i >= 0; i--) handles[i].delete();
    live -= handles.length;
  }
}

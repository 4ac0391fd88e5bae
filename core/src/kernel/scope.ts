/** Anything of the kernel that must be given back. */
export interface KernelHandle {
  delete(): void;
}

export type Own = <H extends KernelHandle>(handle: H) => H;

let live = 0;

/** How many kernel handles are held by open scopes; tests check that it returns to what it was. */
export const liveHandleCount = (): number => live;

/** Handles that live until `close`, newest freed first; closing twice does nothing. For what stays open longer than a call; all else uses `withScope`. */
export interface OpenScope {
  readonly own: Own;
  close(): void;
}

export function openScope(): OpenScope {
  let handles: KernelHandle[] = [];
  return {
    own: (handle) => {
      handles.push(handle);
      live++;
      return handle;
    },
    close: () => {
      const owned = handles;
      handles = [];
      for (let i = owned.length - 1; i >= 0; i--) owned[i].delete();
      live -= owned.length;
    },
  };
}

/** Runs `body`; every handle passed through `own` is freed when it ends, newest first, also after a throw. */
export function withScope<T>(body: (own: Own) => T): T {
  const scope = openScope();
  try {
    return body(scope.own);
  } finally {
    scope.close();
  }
}

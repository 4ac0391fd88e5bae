import init, { type ManifoldToplevel } from 'manifold-3d';

let loading: Promise<ManifoldToplevel> | undefined;

/** The Manifold library, loaded when it is first needed; `wasmUrl` where its WebAssembly is not beside its script. */
export function loadManifold(wasmUrl: string | undefined): Promise<ManifoldToplevel> {
  loading ??= init(wasmUrl ? { locateFile: () => wasmUrl } : undefined).then((m) => {
    m.setup();
    return m;
  });
  return loading;
}

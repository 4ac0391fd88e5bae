import init, { type OpenCascadeInstance } from 'replicad-opencascadejs';

/** Where models that were read before are found again, by what they were read of; a Map is one. What is not whole is read anew. */
export interface ModelMemory {
  get(key: string): Uint8Array | undefined;
  set(key: string, bytes: Uint8Array): unknown;
}

/** The loaded CAD kernel. Only core/kernel looks inside. */
export interface Kernel {
  readonly oc: OpenCascadeInstance;
  /** Where the WebAssembly of the mesh booleans is; undefined where it is beside its script. They are loaded when they are first needed. */
  readonly booleansUrl?: string;
  /** Models that were read before, where they are kept. */
  readonly memory?: ModelMemory | undefined;
}

/** Loads the kernel (23 MB of WebAssembly); `wasmUrl` is needed where it is not beside its script, as in a bundle. `booleansUrl`: see `Kernel`. */
export async function loadKernel(wasmUrl?: string, booleansUrl?: string): Promise<Kernel> {
  const quiet = () => undefined;
  const oc = await init({ print: quiet, printErr: quiet, ...(wasmUrl ? { locateFile: () => wasmUrl } : {}) });
  return { oc, booleansUrl };
}

/** What a kernel failure says: C++ exceptions have no message of their own. */
export function kernelErrorText(kernel: Kernel, error: unknown): string {
  if (error instanceof Error && error.message) return `${error.name}: ${error.message}`.slice(0, 160);
  try {
    const [type, text] = kernel.oc.getExceptionMessage(error as WebAssembly.Exception);
    return [type, text].filter(Boolean).join(': ').slice(0, 160);
  } catch {
    return String(error).slice(0, 160);
  }
}

/** True for failures after which the kernel's memory cannot be trusted and it must be replaced. Told by name: errors may come from another realm. */
export function isKernelLost(error: unknown): boolean {
  const { name, message } = (typeof error === 'object' && error !== null ? error : {}) as { name?: unknown; message?: unknown };
  return /RangeError|RuntimeError|out of bounds|unreachable|memory/i.test(`${String(name)} ${String(message)}`);
}

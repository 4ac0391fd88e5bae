import type { OpenCascadeInstance } from 'replicad-opencascadejs';
import { withScope } from './scope.ts';

// Numbers that nothing else in the kernel's memory is likely to hold one after the other.
const KNOWN = [1.25e-3, 7.0625e5, -3.5e-7, 9.875e2, -6.125e4, 2.75e-5];
// 32-bit words of an array's own record that are looked at.
const WORDS = 8;
const POINT = 3;
const FLAT_POINT = 2;

/** An array of the kernel whose elements are points, in space or in a face's own coordinates. */
interface PointArray {
  Length(): number;
}

/** Where, in what a binding is to JavaScript, its address is; and in which word of an array's record that of its elements. */
interface Layout {
  readonly outer: string;
  readonly inner: string;
  readonly word: number;
}

/**
 * Reads arrays of points straight from the kernel's memory: element by element each takes five microseconds. How bindings and arrays are laid out is not
 * promised anywhere, so it is found out with an array of known numbers; where that finds nothing, `read` gives nothing.
 */
export class PackedMemory {
  private readonly oc: OpenCascadeInstance;
  private readonly layout: Layout | undefined;

  constructor(oc: OpenCascadeInstance) {
    this.oc = oc;
    this.layout = withScope((own) => {
      const points = own(new oc.NCollection_Array1_gp_Pnt(1, 2));
      points.SetValue(1, own(new oc.gp_Pnt(KNOWN[0], KNOWN[1], KNOWN[2])));
      points.SetValue(2, own(new oc.gp_Pnt(KNOWN[3], KNOWN[4], KNOWN[5])));
      const flat = own(new oc.NCollection_Array1_gp_Pnt2d(1, 3));
      for (let i = 0; i < 3; i++) flat.SetValue(i + 1, own(new oc.gp_Pnt2d(KNOWN[2 * i], KNOWN[2 * i + 1])));
      const found = findLayout(oc, points);
      return found && holdsKnown(elementsAt(oc, flat, found, FLAT_POINT)) ? found : undefined;
    });
  }

  /** The coordinates of points in space, packed; undefined where they cannot be read so. */
  points(array: PointArray): Float64Array | undefined {
    return this.layout && elementsAt(this.oc, array, this.layout, POINT);
  }

  /** The same of points with two coordinates. */
  flatPoints(array: PointArray): Float64Array | undefined {
    return this.layout && elementsAt(this.oc, array, this.layout, FLAT_POINT);
  }
}

const memories = new WeakMap<OpenCascadeInstance, PackedMemory>();

/** The reader of a kernel, made when it is first asked for. */
export function packedMemoryOf(oc: OpenCascadeInstance): PackedMemory {
  const known = memories.get(oc);
  if (known) return known;
  const made = new PackedMemory(oc);
  memories.set(oc, made);
  return made;
}

function findLayout(oc: OpenCascadeInstance, array: PointArray): Layout | undefined {
  const held = array as unknown as Record<string, unknown>;
  for (const outer of Object.getOwnPropertyNames(held)) {
    const record = held[outer];
    if (typeof record !== 'object' || record === null) continue;
    for (const inner of Object.getOwnPropertyNames(record)) {
      if (typeof (record as Record<string, unknown>)[inner] !== 'number') continue;
      for (let word = 0; word < WORDS; word++) {
        const layout = { outer, inner, word };
        const elements = elementsAt(oc, array, layout, POINT);
        if (elements && holdsKnown(elements)) return layout;
      }
    }
  }
  return undefined;
}

const holdsKnown = (elements: Float64Array | undefined): boolean => elements?.length === KNOWN.length && KNOWN.every((v, i) => v === elements[i]);

// A copy of the elements, where the addresses can be some.
function elementsAt(oc: OpenCascadeInstance, array: PointArray, { outer, inner, word }: Layout, coordinates: number): Float64Array | undefined {
  const record = (array as unknown as Record<string, Record<string, unknown> | undefined>)[outer];
  const at = record?.[inner];
  const buffer = memoryOf(oc);
  if (typeof at !== 'number' || at <= 0 || at % 4 !== 0 || at + 4 * WORDS > buffer.byteLength) return undefined;
  const elements = new Uint32Array(buffer, at, WORDS)[word];
  const count = coordinates * array.Length();
  if (elements === 0 || elements % 8 !== 0 || elements + 8 * count > buffer.byteLength) return undefined;
  return new Float64Array(buffer, elements, count).slice();
}

/** The kernel's memory, as it is until the kernel next works: it may grow then. (Its own type is one of the browser's, which the core does not know.) */
export const memoryOf = (oc: OpenCascadeInstance): ArrayBuffer =>
  (oc as unknown as { readonly wasmMemory: { readonly buffer: ArrayBuffer } }).wasmMemory.buffer;

import { makeComponent, readWords } from '#core/components';
import { loadKernel, readModelFile } from '#core/kernel';
import type { Model } from '#core/mesh';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { ASSEMBLY_VERSION, type AssemblyRecord, type ComponentRecord, ON_MASTER, type Piece } from '#core/records';
import { componentOfSpec } from '#core/sources';
import { gaugeLengthOf, placeTips, reachAlongMount } from './index.ts';

/** Pieces of a small shop, from data, for tests: what is known of them is in their names. */
export const WORDS = {
  s40: 'sleeve 40 to 25',
  s32: 'sleeve 32 to 16',
  s25: 'sleeve 25 to 16',
  s16: 'sleeve 16 to 8',
  bar16: 'A16M-SCLCR 09',
  bar16l: 'A16R-SCLCL 09',
  bar8: 'A08H-SCLCR 06 wf 6',
  d8: 'drill 8',
  d10: 'drill 10',
  c10: 'collet er32 d10',
} as const;
export type Key = keyof typeof WORDS;
/** Filled by `openShop`. */
export const components = {} as Record<Key, ComponentRecord>;
export const models = {} as Record<Key, Model>;

/** Makes the shop's components and reads their models; gives the kernel that did it. */
export async function openShop() {
  const kernel = await loadKernel();
  for (const [key, words] of Object.entries(WORDS) as [Key, string][]) {
    const { spec } = readWords(words);
    const made = spec && makeComponent(spec);
    if (!spec || !made?.ok) throw new Error(`${words}: ${JSON.stringify(made)}`);
    components[key] = componentOfSpec(spec, made.part, { id: key, name: words, now: '' });
    const read = await readModelFile(kernel, writeSolidShape(made.part.shape), shapeFileName('x'), { exactProperties: true, chordTolerance: 0.005 });
    if (!read.ok) throw new Error(words);
    models[key] = read.value.model;
  }
  return kernel;
}

export const piece = (id: string, key: Key, on?: string, stickOut = 0, rollDeg = 0): Piece => ({
  id,
  componentId: key,
  parent: on === undefined ? null : { pieceId: on, seatId: 'data-seat-0' },
  stickOut,
  rollDeg,
});
export const chain = (...pieces: Piece[]): AssemblyRecord => ({
  kind: 'assembly',
  version: ASSEMBLY_VERSION,
  id: 'a',
  name: 'a',
  pieces,
  edges: [],
  shelf: ON_MASTER,
  createdAt: '',
  changedAt: '',
});
export const reachOf = (c: ComponentRecord) => reachAlongMount(c, models[c.id as Key]);
export const value = <T>(r: { ok: true; value: T } | { ok: false; issues: readonly { code: string }[] }): T => {
  if (!r.ok) throw new Error(r.issues.map((i) => i.code).join());
  return r.value;
};
export const code = (r: { ok: boolean; issues?: readonly { code: string }[] }): string => (r.ok ? 'ok' : (r.issues?.[0].code ?? ''));
export const lengthOf = (a: Pick<AssemblyRecord, 'pieces'>) => gaugeLengthOf(a, placeTips(a, components));

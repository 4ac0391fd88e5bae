import { basename } from 'node:path';
import { type CookedTrial, cookTrial, trialOfPackage } from '#core/handover';
import { unwrap } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { isZip } from '#core/records';
import { filesBeside } from './beside.ts';

/** A trial file with what it names, from its folder, or the trial of a set-up's package. */
export async function readTrial(kernel: Kernel, bytes: Uint8Array, { file, trial }: { file: string; trial?: string }): Promise<CookedTrial> {
  if (isZip(bytes)) return unwrap(await trialOfPackage(kernel, bytes, basename(file), trial));
  return unwrap(await cookTrial(kernel, new TextDecoder().decode(bytes), basename(file), filesBeside(file), new Date().toISOString()));
}

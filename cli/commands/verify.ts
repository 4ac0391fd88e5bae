import { verifyPackage } from '#core/handover';
import { unwrap } from '#core/issues';
import type { Kernel } from '#core/kernel';
import type { CommandOutput, Say } from '../request.ts';
import { threadCrew } from '../thread-crew.ts';
import { checkTable, giveWay } from './io.ts';

export async function verify(kernel: Kernel, bytes: Uint8Array, file: string, progress: Say): Promise<CommandOutput> {
  const { name, checks } = unwrap(await verifyPackage(kernel, bytes, file, { crew: threadCrew(), giveWay, onProgress: (_, text) => progress(text) }));
  return { json: { name, checks }, text: `${name}\n${checkTable(checks)}`, warnings: [], checkFailed: checks.some((c) => c.state === 'fail') };
}

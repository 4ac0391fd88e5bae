import { verifyPackage } from '#core/handover';
import { unwrap } from '#core/issues';
import type { Kernel } from '#core/kernel';
import type { CommandOutput } from '../request.ts';
import { checkTable } from './io.ts';

export async function verify(kernel: Kernel, bytes: Uint8Array, file: string): Promise<CommandOutput> {
  const { name, checks } = unwrap(await verifyPackage(kernel, bytes, file));
  return { json: { name, checks }, text: `${name}\n${checkTable(checks)}`, warnings: [], checkFailed: checks.some((c) => c.state === 'fail') };
}

import { type ChildProcess, spawn } from 'node:child_process';
import { networkInterfaces } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, it } from '@jest/globals';

const PORT = 4233;
let server: ChildProcess | undefined;
afterEach(() => {
  server?.kill();
});

/** Starts the server as `npm start` does, and gives the line it prints. */
function started(env: Record<string, string>): Promise<string> {
  const child = spawn(process.execPath, ['--import', 'tsx', join(import.meta.dirname, 'main.ts')], {
    env: { ...process.env, NODE_OPTIONS: '', PORT: String(PORT), ...env },
  });
  server = child;
  return new Promise((resolve, reject) => {
    child.stdout.on('data', (text: Buffer) => resolve(String(text).trim()));
    child.stderr.on('data', (text: Buffer) => reject(new Error(String(text))));
  });
}
const answers = (host: string) =>
  fetch(`http://${host}:${PORT}/demo/none`).then(
    () => true,
    () => false,
  );
const elsewhere = Object.values(networkInterfaces())
  .flat()
  .find((i) => i?.family === 'IPv4' && !i.internal)?.address;

describe('the server', () => {
  it('is there for this machine only', async () => {
    expect(await started({ HOST: '' })).toBe(`Ruota is at http://localhost:${PORT}`);
    expect(await answers('127.0.0.1')).toBe(true);
    if (elsewhere) expect(await answers(elsewhere)).toBe(false);
  });
  it('unless HOST opens it to others', async () => {
    expect(await started({ HOST: '0.0.0.0' })).toBe(`Ruota is at http://localhost:${PORT}`);
    expect(await answers('127.0.0.1')).toBe(true);
    if (elsewhere) expect(await answers(elsewhere)).toBe(true);
  });
});

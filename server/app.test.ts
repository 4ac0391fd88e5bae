import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import type { Server } from 'node:http';
import { brotliCompressSync } from 'node:zlib';
import { createApp } from './app.ts';

const dist = mkdtempSync(join(tmpdir(), 'ruota-dist-'));
const script = 'console.log("hello");'.repeat(200);
let server: Server;
let base: string;
beforeAll(() => {
  for (const folder of ['web/assets', 'demo/blobs']) mkdirSync(join(dist, folder), { recursive: true });
  writeFileSync(join(dist, 'web/index.html'), '<title>Ruota</title>');
  writeFileSync(join(dist, 'web/assets/a.js'), script);
  writeFileSync(join(dist, 'web/assets/a.js.br'), brotliCompressSync(script));
  writeFileSync(join(dist, 'web/assets/kernel.wasm'), 'wasm');
  writeFileSync(join(dist, 'demo/records.json'), '[]');
  server = createApp(dist).listen(0);
  base = `http://localhost:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.close();
});
const get = (path: string, encoding = 'identity') => fetch(base + path, { headers: { 'accept-encoding': encoding } });

describe('the server', () => {
  it('sends what was compressed at build, for good', async () => {
    const r = await get('/assets/a.js', 'br, gzip');
    expect(r.headers.get('content-encoding')).toBe('br');
    expect(r.headers.get('cache-control')).toContain('immutable');
    expect(r.headers.get('content-type')).toContain('javascript');
    expect(await r.text()).toBe(script);
  });
  it('sends plain files to who takes no compression, and the kernel as WebAssembly', async () => {
    expect((await get('/assets/a.js')).headers.get('content-encoding')).toBeNull();
    expect((await get('/assets/kernel.wasm')).headers.get('content-type')).toBe('application/wasm');
  });
  it('gives the page for every view, always fresh, and 404 for assets that are gone', async () => {
    const view = await get('/bench/some-id');
    expect(await view.text()).toContain('Ruota');
    expect(view.headers.get('cache-control')).toBe('no-cache');
    expect((await get('/assets/old.js')).status).toBe(404);
    expect((await get('/demo/blobs/none')).status).toBe(404);
  });
  it('lets nothing be loaded from elsewhere, and no path lead out of its folder', async () => {
    const r = await get('/');
    expect(r.headers.get('content-security-policy')).toContain("default-src 'self'");
    expect(r.headers.get('content-security-policy')).not.toMatch(/'unsafe-eval'/);
    expect((await get('/assets/..%2f..%2f..%2fetc%2fpasswd')).status).toBeGreaterThanOrEqual(400);
  });
});

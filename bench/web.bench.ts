import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { chromium } from '@playwright/test';
import { createApp } from '../server/app.ts';
import type { BenchRow } from './measure.ts';
import { CHROMIUM } from '../playwright.config.ts';

const dist = join(import.meta.dirname, '..', 'dist');

/** The production build in real Chromium: first screen, usable stage, size of what is loaded first, how the kernel is served. */
export async function benchWeb(): Promise<BenchRow[]> {
  const html = readFileSync(join(dist, 'web', 'index.html'), 'utf8');
  const firstScripts = [...html.matchAll(/(?:src|href)="(\/assets\/[^"]+\.js)"/g)].map((m) => m[1]);
  const firstKb = firstScripts.reduce((sum, path) => sum + gzipSync(readFileSync(join(dist, 'web', path)), { level: 9 }).length, 0) / 1000;
  const assets = readdirSync(join(dist, 'web', 'assets'));
  const wasm = assets.find((f) => f.endsWith('.wasm.br')) ?? '';
  const server = createApp(dist).listen(0);
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : 0;
  const browser = await chromium.launch(CHROMIUM);
  const screens: number[] = [];
  const stages: number[] = [];
  let kernels = 0;
  for (let i = 0; i < 5; i++) {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    page.on('request', (r) => {
      if (r.url().endsWith('.wasm')) kernels++;
    });
    const from = performance.now();
    await page.goto(`http://localhost:${port}/`, { waitUntil: 'commit' });
    await page.locator('nav.rail').waitFor();
    screens.push(performance.now() - from);
    // Usable: all four pieces are drawn and the gauge length stands.
    await page.getByTestId('gauge-length').getByText('148.000').waitFor();
    await page.locator('.stage canvas').waitFor();
    await page.getByText('Loading models…').waitFor({ state: 'detached' });
    stages.push(performance.now() - from);
    if (i === 0) await page.waitForTimeout(5000);
    await context.close();
  }
  await browser.close();
  server.close();
  const median = (v: number[]) => v.sort((a, b) => a - b)[2];
  return [
    { what: 'first screen', value: median(screens), unit: 'ms', limit: 1000 },
    { what: 'stage with the demo assembly', value: median(stages), unit: 'ms', limit: 2500 },
    { what: 'scripts of the first screen, gzip', value: firstKb, unit: 'kB', limit: 350 },
    { what: 'kernel, brotli', value: wasm ? statSync(join(dist, 'web', 'assets', wasm)).size / 1e6 : Number.NaN, unit: 'MB' },
    { what: 'requests of the kernel in five first visits', value: kernels, unit: '', limit: 5 },
  ];
}

// The first hour's waits in real Chromium: from the drop to the picture and the proposals, cold and warm; from a press to the first proven result and the last.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { dropFile } from '../e2e/person.ts';
import { CHROMIUM } from '../playwright.config.ts';
import { createApp } from '../server/app.ts';
import type { BenchRow } from './measure.ts';

const root = join(import.meta.dirname, '..');
const LOOK_MS = 2500;
const MODEL = 'collet-chuck-63-32.step';
const BLOCK = 'station-block-40.step';
const read = (name: string) => new Uint8Array(readFileSync(join(root, 'demo/models', name)));

export async function benchOpening(): Promise<BenchRow[]> {
  const server = createApp(join(root, 'dist')).listen(0);
  const address = server.address();
  const url = `http://localhost:${typeof address === 'object' && address ? address.port : 0}/shelf`;
  const browser = await chromium.launch(CHROMIUM);
  const rows: BenchRow[] = [];
  try {
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.goto(url);
    await page.getByRole('heading', { name: 'Shelf' }).waitFor();
    // Who comes to open a file looks for it first.
    await page.waitForTimeout(3000);
    const cold = await open(page, MODEL);
    await page.goto(url);
    await page.getByRole('navigation').waitFor();
    // The kernel is ready again, and its code compiled from before.
    await page.waitForTimeout(6000);
    const again = await open(page, MODEL);
    await page.getByRole('link', { name: 'Shelf' }).click();
    await page.getByRole('heading', { name: 'Shelf' }).waitFor();
    const warm = await open(page, MODEL);
    rows.push(
      { what: 'browser, cold: from the drop to the proposals', value: cold.proposals, unit: 'ms', limit: 5000 },
      { what: 'browser, cold: to the picture', value: cold.picture, unit: 'ms' },
      { what: 'browser, after a reload: to the proposals', value: again.proposals, unit: 'ms' },
      { what: 'browser, warm: from the drop to the proposals', value: warm.proposals, unit: 'ms', limit: 1500 },
      { what: 'browser, warm: to the picture', value: warm.picture, unit: 'ms' },
    );
    rows.push(...(await press(page, 'what spins', 1000)));
    await page.getByRole('link', { name: 'Shelf' }).click();
    await page.getByRole('heading', { name: 'Shelf' }).waitFor();
    await open(page, BLOCK);
    rows.push(...(await press(page, 'a block of seven bodies', 2000)));
  } finally {
    await browser.close();
    server.close();
  }
  return rows;
}

async function open(page: Page, name: string): Promise<{ picture: number; proposals: number }> {
  await dropFile(page, name, read(name));
  const from = performance.now();
  let [picture, proposals] = [0, 0];
  await Promise.all([
    page
      .locator('.stage canvas')
      .waitFor()
      .then(() => (picture = performance.now() - from)),
    page
      .getByRole('button', { name: /^Accept all/ })
      .waitFor()
      .then(() => (proposals = performance.now() - from)),
  ]);
  return { picture, proposals };
}

// Presses Make of the holder with everything accepted, once what was read has been looked at: meanwhile it is sampled ahead.
async function press(page: Page, what: string, limit: number): Promise<BenchRow[]> {
  await page.waitForTimeout(LOOK_MS);
  await page.getByRole('button', { name: /^Accept all/ }).click();
  const made = page.locator('.ledger-entry').filter({ has: page.getByRole('heading', { name: 'Holder geometry' }) });
  await made.getByRole('button', { name: 'Make holder geometry' }).click();
  const from = performance.now();
  await made.locator('.ledger-value').filter({ hasText: /tri$/ }).waitFor();
  const first = performance.now() - from;
  await page.locator('.job-panel').waitFor({ state: 'detached' });
  return [
    { what: `browser: from the press to the first proven result, ${what}`, value: first, unit: 'ms', limit },
    { what: `browser: to the last, ${what}`, value: performance.now() - from, unit: 'ms' },
  ];
}

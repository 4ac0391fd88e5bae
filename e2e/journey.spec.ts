import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import validator from 'gltf-validator';
import { test } from './fresh-profile.ts';
import { choose, chooseFile, demoFile, dropDemo, entry, fit, onBench, opened, openRuota, orbit, pick, type } from './person.ts';

// The whole way of a tool, from two vendor files to a package and back, through the interface alone.

test.describe.configure({ mode: 'serial' });

let page: Page;
test.beforeAll(async ({ profile }) => {
  await profile.empty();
  page = await profile.open();
  await openRuota(page);
});

test('a dropped boring bar in inches opens on the Bench', async () => {
  await dropDemo(page, 'hub-bore-bar-16-inch.step');
  await onBench(page, 'hub-bore-bar-16-inch.step');
  await expect(entry(page, 'Unit')).toContainText('inch');
  await expect(page.getByRole('group', { name: 'Bodies' })).toContainText('Import1-2');
});

test('its bodies get roles; the nose is picked on the insert', async () => {
  await choose(page, 'Role of Import1', 'cutting', 1);
  await choose(page, 'Role of Import1-2', 'hardware');
  await page.getByRole('button', { name: 'Show only Import1' }).nth(1).click();
  await fit(page);
  await (await opened(page, 'Tip')).getByRole('button', { name: 'Pick on the model' }).click();
  await pick(page, /rounded edge, radius 0\.400/, { step: 6, near: [0.6, 0.62] });
  await expect(entry(page, 'Tip')).toContainText('RE 0.400');
  await page.getByRole('button', { name: 'show all' }).click();
});

test('its mount is picked at the rear face; LF and WF follow', async () => {
  await fit(page);
  await orbit(page, 180, 0);
  await (await opened(page, 'Mount')).getByRole('button', { name: 'Pick on the model' }).click();
  await pick(page, /circle, diameter 14\.400/, { step: 7, near: [0.09, 0.74] });
  const mount = await opened(page, 'Mount');
  await expect(mount).toContainText('cylindrical');
  await mount.getByRole('button', { name: 'Edit mount' }).click();
  await type(page, 'Size of the mount', '16');
  await expect(mount).toContainText('cylindrical 16');
  // By construction: tip at 11 beside the axis, 150 in front of the rear face, on the axis in height.
  await expect(entry(page, 'Tip').locator('.facts')).toHaveText(/LF150\.000WF11\.000centre height0\.000/);
});

test('exact geometry is made, with growth that is never negative', async () => {
  for (const title of ['Cutting geometry', 'Holder geometry']) {
    await (await opened(page, title)).getByRole('button', { name: 'Make' }).click();
    await expect(entry(page, title)).toContainText('never inside', { timeout: 60_000 });
    await expect(entry(page, title)).toContainText('closed');
  }
});

test('everything is there after a reload, and undo is not confused by it', async () => {
  await page.reload();
  await onBench(page, 'hub-bore-bar-16-inch.step');
  await expect(entry(page, 'Tip').locator('.facts')).toContainText('LF150.000');
  await expect(entry(page, 'Holder geometry')).toContainText('never inside');
});

test('the sleeve is opened by the dialog and marked: mount and seat', async () => {
  await page.getByRole('link', { name: 'Shelf' }).click();
  await chooseFile(page, demoFile('sleeve-32-16.step'));
  await onBench(page, 'sleeve-32-16.step');
  for (const i of [0, 1, 2]) await choose(page, `Role of GWS-${i}`, 'hardware');
  await (await opened(page, 'Seats')).getByRole('button', { name: 'Pick a seat' }).click();
  await pick(page, /circle, diameter 18\.000/, { step: 6, near: [0.35, 0.62] });
  await (await opened(page, 'Seats')).getByRole('button', { name: /^Edit/ }).click();
  await type(page, /^Size of/, '16', await opened(page, 'Seats'));
  await expect(entry(page, 'Seats')).toContainText('cylindrical 16');
  await orbit(page, 180, 0);
  await (await opened(page, 'Mount')).getByRole('button', { name: 'Pick on the model' }).click();
  await pick(page, /circle, diameter 46\.000|rounded edge, radius 23\.000/, { step: 6, near: [0.72, 0.3] });
  await (await opened(page, 'Mount')).getByRole('button', { name: 'Edit mount' }).click();
  await type(page, 'Size of the mount', '32');
  // Both faces of the flange have such a circle; the rear one is at Y 70 of the file.
  await type(page, 'Y', '70', await opened(page, 'Mount'));
  // The heavier side of a sleeve is its shank, so a pick alone guesses Z the wrong way.
  const towards = page.getByRole('combobox', { name: 'Z of the mount' });
  if ((await towards.inputValue()) !== '+Y') await (await opened(page, 'Mount')).getByRole('button', { name: 'Flip Z' }).click();
  await expect(towards).toHaveValue('+Y');
  await expect(entry(page, 'Mount')).toContainText('cylindrical 32');
});

test('its revolved envelope is lighter, closed and encloses it', async () => {
  const holder = await opened(page, 'Holder geometry');
  await holder.getByText('revolved', { exact: true }).click();
  await holder.getByRole('button', { name: 'Make' }).click();
  await expect(holder).toContainText('never inside', { timeout: 90_000 });
  const [before, after] = await holder
    .getByRole('row', { name: /triangles/ })
    .getByRole('cell')
    .allInnerTexts()
    .then((t) => t.slice(1).map((n) => Number(n.replace(/,/g, ''))));
  expect(after).toBeLessThan(before / 2);
  await page.getByText(/^Simulation ·/).click();
  await expect(page.locator('.stage canvas')).toBeVisible();
});

test('a holder that does not fit is refused with the reason; the bar fits', async () => {
  await page.getByRole('button', { name: 'Start an assembly' }).click();
  await page.getByRole('button', { name: /is free/ }).click();
  await page.getByText(/that do not fit/).click();
  await expect(page.locator('.add-refused').filter({ hasText: 'Collet chuck' })).toContainText('does not go into a cylindrical 16 seat');
  await page.locator('.add-row').filter({ hasText: 'hub-bore-bar-16-inch' }).click();
  await expect(page.getByTestId('gauge-length')).not.toHaveText('–');
});

test('stick-out gives the gauge length that the frames say, to 0.001 mm', async () => {
  await page.locator('.piece-line').filter({ hasText: 'hub-bore-bar-16-inch' }).click();
  await type(page, 'stick-out', '-160/2');
  // Sleeve 18 in front of its mount, bar 150 long, 80 of it inside.
  await expect(page.getByTestId('gauge-length')).toHaveText('88.000');
  await expect(page.locator('.tip-table tbody tr td.number')).toHaveText(['–', '88.000', '11.000', '0.000']);
  await page.keyboard.press('Escape');
  await page.getByRole('application', { name: /^3D stage/ }).click({ position: { x: 300, y: 20 } });
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('gauge-length')).not.toHaveText('88.000');
  await page.keyboard.press('Control+y');
  await expect(page.getByTestId('gauge-length')).toHaveText('88.000');
});

let zip: Uint8Array;
test('the package holds valid GLB, STL and STEP of each part, and the numbers', async () => {
  await page.getByRole('button', { name: 'Hand over' }).click();
  const [download] = await Promise.all([page.waitForEvent('download', { timeout: 120_000 }), page.getByRole('button', { name: 'Write the package' }).click()]);
  zip = new Uint8Array(readFileSync(await download.path()));
  const files = unzipSync(zip);
  const manifest = JSON.parse(new TextDecoder().decode(files['manifest.json'])) as {
    gaugeLength: number;
    tips: { L: number; Q: number; Y: number; noseRadius: number }[];
    pieces: { parts: { target: string; files: Record<string, string>; growth: { min: number } }[] }[];
    checks: { state: string }[];
  };
  expect(manifest.gaugeLength).toBeCloseTo(88, 6);
  expect(manifest.tips).toHaveLength(1);
  expect(manifest.tips[0].Q).toBeCloseTo(11, 4);
  expect(manifest.checks.filter((c) => c.state === 'fail')).toEqual([]);
  const parts = manifest.pieces.flatMap((p) => p.parts);
  expect(parts.map((p) => p.target)).toEqual(['non-cutting', 'non-cutting', 'cutting']);
  for (const part of parts) {
    expect(part.growth.min).toBeGreaterThanOrEqual(-1e-6);
    const report = await validator.validateBytes(files[part.files.glb]);
    expect(report.issues.numErrors).toBe(0);
    const stl = files[part.files.stl];
    expect(new DataView(stl.buffer, stl.byteOffset).getUint32(80, true) * 50 + 84).toBe(stl.length);
    expect(new TextDecoder().decode(files[part.files.step].subarray(0, 13))).toBe('ISO-10303-21;');
  }
});

test('the package opens again as the same assembly, beside the first', async () => {
  const file = { name: 'back.zip', mimeType: 'application/zip', buffer: Buffer.from(zip) };
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('button', { name: 'Open a file' }).first().click()]);
  await chooser.setFiles(file);
  await expect(page).toHaveURL(/\/build\//, { timeout: 60_000 });
  await expect(page.getByTestId('gauge-length')).toHaveText('88.000');
  await expect(page.locator('.tip-table tbody tr td.number')).toHaveText(['–', '88.000', '11.000', '0.000']);
  await expect(page.locator('.check-sum')).toContainText('pass', { timeout: 30_000 });
});

test('the Shelf finds, renames, duplicates and deletes, and undo brings back', async () => {
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByLabel('Search').fill('bore bar inch');
  // The demo's own, the one marked here, and the one that came back with the package.
  await expect(page.getByRole('article')).toHaveCount(3);
  await page.getByLabel('Search').fill('hub-bore-bar');
  const bars = page.getByRole('article');
  const before = await bars.count();
  await page
    .getByRole('button', { name: /^What to do with/ })
    .first()
    .click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await expect(bars).toHaveCount(before + 1);
  await expect(page.getByRole('menu')).toHaveCount(0);
  // What an assembly uses stays, with the reason.
  await page.getByRole('button', { name: 'What to do with Hub-bore bar 16', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(page.getByText(/stays: Hub shell station.* uses? it/)).toBeVisible();
  await expect(page.getByRole('menu')).toHaveCount(0);
  await page.getByRole('button', { name: 'What to do with Hub-bore bar 16 2' }).click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  await page.getByLabel('New name').fill('Spare hub-bore-bar <b>1</b>');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: 'Spare hub-bore-bar <b>1</b>', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'What to do with Spare hub-bore-bar <b>1</b>' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(bars).toHaveCount(before);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(bars).toHaveCount(before + 1);
  await expect(page.getByRole('article').locator('img').first()).toBeVisible({ timeout: 30_000 });
});

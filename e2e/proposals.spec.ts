import { expect } from '@playwright/test';
import { test } from './fresh-profile.ts';
import { chooseFile, demoFile, dropDemo, entry, onBench, opened, openRuota } from './person.ts';

test('a turning tool is marked by one press, and corrected by hand, as steps that can be undone', async ({ page }) => {
  await openRuota(page);
  await dropDemo(page, 'hub-face-holder-25.step');
  await onBench(page, 'hub-face-holder-25.step');
  await expect(entry(page, 'Mount')).toContainText('proposed square 25x25');
  await expect(entry(page, 'Mount')).toContainText('rear face');
  await page.getByRole('button', { name: 'Accept all 4 proposals' }).click();
  await expect(page.getByRole('region', { name: 'Ledger' })).toContainText('marked and ready to build');
  await expect(entry(page, 'Bodies')).toContainText('1 tool body · 1 cutting · 3 hardware');
  // ISO 5608: a 25 shank has WF 32; this one is 150 long, with the tip at the top of the shank.
  await expect(entry(page, 'Tip').locator('.facts')).toHaveText(/LF150\.000WF32\.000centre height0\.000/);
  await expect(entry(page, 'Mount')).toContainText('read');
  // One press was one step.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: 'Accept all 4 proposals' })).toBeVisible();
  await page.getByRole('button', { name: 'Redo' }).click();
  // A correction by hand is marked as such, and is not offered again.
  await (await opened(page, 'Mount')).getByRole('button', { name: 'Edit mount' }).click();
  await page.getByRole('combobox', { name: 'Size of the mount' }).fill('20x20');
  await page.getByRole('combobox', { name: 'Size of the mount' }).press('Enter');
  await expect(entry(page, 'Mount')).toContainText('typed');
  await page.reload();
  await onBench(page, 'hub-face-holder-25.step');
  await expect(entry(page, 'Mount')).toContainText('square 20x20');
  await expect(page.getByRole('button', { name: /^Accept/ })).toHaveCount(0);
});

test('a station block and a sleeve are read, one proposal taken alone', async ({ page }) => {
  await openRuota(page);
  await chooseFile(page, demoFile('station-block-40.step'));
  await onBench(page, 'station-block-40.step');
  await page.getByRole('button', { name: 'Accept VDI 40' }).click();
  await expect(entry(page, 'Mount')).toContainText('VDI 40');
  await expect(entry(page, 'Mount')).toContainText('flanks of teeth');
  await page.getByRole('button', { name: /^Accept all/ }).click();
  await expect(entry(page, 'Seats')).toContainText('cylindrical 32');
  await page.getByRole('link', { name: 'Shelf' }).click();
  await chooseFile(page, demoFile('sleeve-32-16.step'));
  await onBench(page, 'sleeve-32-16.step');
  await page.getByRole('button', { name: /^Accept all/ }).click();
  await expect(entry(page, 'Mount')).toContainText('cylindrical 32');
  await expect(entry(page, 'Seats')).toContainText('cylindrical 16');
});

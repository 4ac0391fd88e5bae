import { readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import { expect } from '@playwright/test';
import { strToU8, zipSync } from 'fflate';
import { test } from './fresh-profile.ts';
import { demoFile, dropFile, onBench, openRuota } from './person.ts';

const model = (file: string) => new Uint8Array(readFileSync(demoFile(file)));

test('a vendor’s zip: its one model opens at once; of several it is asked which, and those are on the Shelf', async ({ page }) => {
  await openRuota(page, '/shelf');
  const bar = model('hub-bore-bar-16-inch.step');
  await dropFile(page, 'one.zip', zipSync({ 'Bar/vendor-bar.step': bar, 'Bar/sheet.pdf': strToU8('%PDF'), 'Bar/picture.jpg': Uint8Array.of(0xff, 0xd8) }));
  // Said for five seconds, while it opens.
  await expect(page.getByText('vendor-bar.step was taken out of one.zip; 2 other files in it left alone.')).toBeVisible();
  await onBench(page, 'vendor-bar.step');

  await page.getByRole('link', { name: 'Shelf', exact: true }).click();
  const zip = zipSync({
    'set/vendor-sleeve.step': model('sleeve-32-16.step'),
    'set/vendor-sleeve.stl': strToU8('solid x\nendsolid x\n'),
    'set/inner.zip': zipSync({ 'packed-bar.step.gz': new Uint8Array(gzipSync(bar)) }),
    'set/layout.dxf': strToU8('0\nEOF\n'),
    'set/read me.pdf': strToU8('%PDF'),
  });
  await dropFile(page, 'set.zip', zip);
  const dialog = page.getByRole('dialog', { name: 'What is in set.zip' });
  const box = (name: string) => dialog.getByRole('checkbox', { name });
  await expect(box('set/vendor-sleeve.step')).toBeChecked();
  await expect(box('set/inner.zip/packed-bar.step.gz/packed-bar.step')).toBeChecked();
  for (const name of ['set/vendor-sleeve.stl', 'set/layout.dxf']) await expect(box(name)).not.toBeChecked();
  await expect(dialog).toContainText('Not opened: set/read me.pdf');
  // Another one that is dropped meanwhile waits. Left alone, nothing has come of them.
  await dropFile(page, 'other.zip', zipSync({ 'one.step': bar, 'two.step': bar }));
  await expect(page.getByText('Unpacking other.zip')).toBeHidden();
  await expect(dialog).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(dialog).toBeHidden();
  const other = page.getByRole('dialog', { name: 'What is in other.zip' });
  for (const name of ['one.step', 'two.step']) await expect(other.getByRole('checkbox', { name })).toBeChecked();
  await other.getByRole('button', { name: 'Leave it' }).click();
  await expect(other).toBeHidden();
  await dropFile(page, 'set.zip', zip);
  await box('set/inner.zip/packed-bar.step.gz/packed-bar.step').uncheck();
  await dialog.getByRole('button', { name: 'Open 1' }).click();
  await onBench(page, 'vendor-sleeve.step');
  await page.getByRole('link', { name: 'Shelf', exact: true }).click();
  await expect(page.getByRole('link', { name: 'vendor-sleeve', exact: true })).toBeVisible();
  await expect(page.getByRole('link', { name: 'vendor-bar', exact: true })).toBeVisible();
  await expect(page.getByRole('link', { name: 'packed-bar', exact: true })).toHaveCount(0);
});

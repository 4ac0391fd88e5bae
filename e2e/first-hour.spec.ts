import { expect } from '@playwright/test';
import { test } from './fresh-profile.ts';
import { chooseFile, corpusFile, entry, onBench, openRuota, pick } from './person.ts';

// What someone meets who opens the application for the first time, at 1280x800.

test('an empty profile opens on the demo assembly and says where to begin; the line goes for good with a file of one’s own', async ({ page }) => {
  await openRuota(page, '/');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Hub shell station');
  const line = page.getByRole('complementary', { name: 'Where to begin' });
  await expect(line).toContainText('drop its model anywhere');
  await page.reload();
  await expect(line).toBeVisible();
  await chooseFile(page, corpusFile('holder-12.step'));
  await onBench(page, 'holder-12.step');
  await expect(line).toHaveCount(0);
  await page.reload();
  await onBench(page, 'holder-12.step');
  await expect(line).toHaveCount(0);
});

test('the line can be put away', async ({ page }) => {
  await openRuota(page, '/');
  await page.getByRole('button', { name: 'Put this line away' }).click();
  await expect(page.getByRole('complementary', { name: 'Where to begin' })).toHaveCount(0);
  await page.reload();
  await expect(page.getByText(/^all \d+ pass$/)).toBeVisible();
  await expect(page.getByRole('complementary', { name: 'Where to begin' })).toHaveCount(0);
});

test('the Ledger of each demo component fits on one screen; an entry opens by a press, or when its part is picked', async ({ page }) => {
  await openRuota(page);
  for (const name of ['Station block 40', 'Collet chuck 63 / 32', 'Sleeve 32 to 16', 'Hub-face holder 25 L', 'Hub-bore bar 16']) {
    await page.getByRole('link', { name: 'Shelf' }).click();
    await page.getByRole('link', { name, exact: true }).click();
    const ledger = page.getByRole('region', { name: 'Ledger' });
    await expect(ledger).toContainText('marked and ready to build');
    await expect.poll(() => ledger.evaluate((e) => e.scrollHeight - e.clientHeight)).toBeLessThanOrEqual(0);
  }
  // Hand tools only inside.
  const pose = entry(page, 'Pose');
  await expect(pose.getByRole('button', { name: 'Flip over' })).toHaveCount(0);
  const line = pose.getByRole('button', { name: 'Pose', exact: true });
  await line.focus();
  await page.keyboard.press('Enter');
  await expect(pose.getByRole('button', { name: 'Flip over' })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(pose.getByRole('button', { name: 'Flip over' })).toHaveCount(0);
  // Where a value came from is said on demand.
  await entry(page, 'Mount').locator('.ledger-origin').hover();
  await expect(page.getByRole('tooltip')).toContainText(/typed|read|picked/);
  // The shank's round face carries the mount.
  const mount = entry(page, 'Mount');
  await expect(mount.getByRole('button', { name: 'Pick again' })).toHaveCount(0);
  await pick(page, /^cylinder, diameter 16\.000/);
  await expect(mount.getByRole('button', { name: 'Pick again' })).toBeVisible();
});

test('the axes of a left-hand tool are named by what is true of them', async ({ page }) => {
  await openRuota(page);
  await page.getByRole('link', { name: 'Hub-face holder 25 L', exact: true }).click();
  await expect(page.locator('.stage-label').filter({ hasText: 'below the rake face' })).toBeVisible();
  await expect(page.locator('.stage-label').filter({ hasText: /^up$/ })).toHaveCount(0);
});

test('the section in Build is turned to a plane, and shows what lies behind it', async ({ page }) => {
  await openRuota(page, '/build');
  const section = page.getByLabel('Section in the mount frame');
  await expect(section).toContainText('L 148.000');
  await expect(section).toContainText('Q 11.000');
  await expect.poll(() => page.locator('.strip-behind').count(), { timeout: 30_000 }).toBeGreaterThan(0);
  const plane = page.getByRole('combobox', { name: 'Plane of the section' });
  await expect(plane).toHaveValue('turning plane, 2 tips in it');
  const drawn = () => page.locator('.strip .cut').evaluateAll((all) => all.map((e) => e.getAttribute('d')).join());
  const flat = await drawn();
  await plane.click();
  await page.getByRole('option', { name: 'square to the turning plane' }).click();
  // Neither tip lies in this plane.
  await expect(section).not.toContainText('Q 11.000');
  expect(await drawn()).not.toBe(flat);
  await page.getByRole('textbox', { name: 'Plane turned by' }).fill('30');
  await page.keyboard.press('Enter');
  await expect(plane).toHaveValue('');
  await page.getByRole('textbox', { name: 'Plane turned by' }).fill('0');
  await page.keyboard.press('Enter');
  await expect(section).toContainText('Q 11.000');
  await expect.poll(drawn).toBe(flat);
});

import { expect, type Page } from '@playwright/test';
import { test } from './fresh-profile.ts';
import { choose, entry, onBench, opened, openRead, pick, placeOfLabel, type } from './person.ts';

const number = async (page: Page, title: string, pattern: RegExp) => Number((await (await opened(page, title)).innerText()).match(pattern)?.[1]);

test('an insert is replaced by the nominal one, raised and tilted by typed amounts, and brought back; the tip goes with it', async ({ page }) => {
  await openRead(page, 'turning-10.step');
  const insert = await opened(page, 'Insert');
  await expect(insert).toContainText('as in the file');
  const lf = await number(page, 'Tip', /LF\s+([\d.]+)/);
  // A form that the pocket is not made for is said before it is put in; a tool is no insert.
  await insert.getByLabel('Nominal insert of ISO 1832').fill('CNMG 120408');
  await expect(insert).toContainText('Its corner has 80°, the one in the pocket 35°');
  await insert.getByLabel('Nominal insert of ISO 1832').fill('DCLNR 2525M12');
  await insert.getByRole('button', { name: 'Put in' }).click();
  await expect(insert).toContainText('is a tool of ISO 5608, not an insert');
  await insert.getByLabel('Nominal insert of ISO 1832').fill('VNMG 160404');
  await insert.getByRole('button', { name: 'Put in' }).click();
  await expect(insert).toContainText('nominal VNMG160404', { timeout: 60_000 });
  await expect(entry(page, 'Bodies')).toContainText('1 left out');
  await expect(entry(page, 'Tip')).toContainText('RE 0.400');
  // The middle stays, the smaller nose reaches further out.
  const nominal = await number(page, 'Tip', /LF\s+([\d.]+)/);
  expect(nominal).toBeGreaterThan(lf + 0.2);
  await type(page, 'Raise the insert by', '1.5', insert);
  await insert.getByRole('button', { name: 'Apply' }).click();
  await expect(insert).toContainText('raised', { timeout: 60_000 });
  await expect(page.getByRole('alert').first()).toContainText('above the turning plane');
  await type(page, 'Length: raised', '0', insert);
  // No way is no step. On a tilted insert the smaller nose, further out, comes to lie lower.
  await expect(insert).not.toContainText('raised', { timeout: 60_000 });
  await expect(page.getByRole('alert').first()).toContainText('0.125 mm below the turning plane');
  await expect.poll(() => number(page, 'Tip', /LF\s+([\d.]+)/)).toBeCloseTo(nominal, 3);
  await page.reload();
  await onBench(page, 'turning-10.step');
  await expect(insert).toContainText('nominal VNMG160404');
  await (await opened(page, 'Insert')).getByRole('button', { name: 'Remove the nominal VNMG160404' }).click();
  await expect(insert).toContainText('as in the file', { timeout: 60_000 });
  await expect(entry(page, 'Bodies')).not.toContainText('left out');
  await expect.poll(() => number(page, 'Tip', /LF\s+([\d.]+)/)).toBeCloseTo(lf, 3);
});

test('an insert is brought to a face by a pair of picks, and the step can be taken back', async ({ page }) => {
  await openRead(page, 'turning-10.step');
  const [x, y] = await placeOfLabel(page, /^Tip$/);
  await pick(page, /^plane, normal/, { near: [x + 0.018, y - 0.073], step: 3 });
  const panel = page.getByRole('group', { name: 'Picked' });
  await page.keyboard.down('Shift');
  await pick(page, /^plane, normal parallel to/, { near: [0.515, 0.472], step: 6 });
  await page.keyboard.up('Shift');
  await panel.getByRole('button', { name: /^Bring .* to the other one/ }).click();
  await expect(entry(page, 'Insert')).toContainText('by one pair', { timeout: 60_000 });
  await expect(entry(page, 'Insert')).toContainText('from where the file has it');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(entry(page, 'Insert')).toContainText('as in the file');
});

test('a fused mesh is cut around faces at its corner, which grow and shrink before', async ({ page }) => {
  await openRead(page, 'turning-8.stl');
  await (await opened(page, 'Cutting part')).getByRole('button', { name: 'Cut around its faces…' }).click();
  const panel = page.getByRole('group', { name: 'Picked' });
  const rows = panel.locator('.picked-row');
  const proposed = await rows.count();
  await panel.getByRole('button', { name: 'Add neighbours' }).click();
  expect(await rows.count()).toBeGreaterThan(proposed);
  await panel.getByRole('button', { name: 'Take off the rim' }).click();
  await panel.getByRole('button', { name: 'Add neighbours' }).click();
  await panel.getByRole('button', { name: /^Cut off around/ }).click();
  await expect(entry(page, 'Bodies')).toContainText('1 tool body · 1 cutting', { timeout: 60_000 });
  await expect(panel).toHaveCount(0);
  await (await opened(page, 'Cutting geometry')).getByRole('button', { name: 'Make' }).click();
  await expect(entry(page, 'Cutting geometry')).toContainText('closed', { timeout: 60_000 });
});

test('a sense of the spindle that the insert does not cut with is said', async ({ page }) => {
  await openRead(page, 'turning-10.step');
  // The facts come after the marks are taken.
  const facts = await opened(page, 'Facts');
  await expect(facts).toContainText(/M[34] towards the chuck/, { timeout: 60_000 });
  const hand = (await facts.innerText()).includes('M3 towards the chuck') ? 'right' : 'left';
  await (await opened(page, 'Tip')).getByRole('button', { name: 'Edit Tip' }).click();
  await choose(page, 'runs with', hand === 'right' ? 'M4, towards the chuck' : 'M3, towards the chuck');
  await expect(page.getByRole('alert').first()).toContainText('upside down');
  await choose(page, 'runs with', hand === 'right' ? 'M4, away from it' : 'M3, away from it');
  await expect(page.getByRole('alert')).toHaveCount(0);
});

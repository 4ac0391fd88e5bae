import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { test } from './fresh-profile.ts';
import {
  acceptAll,
  choose,
  chooseFile,
  corpusFile,
  demoFile,
  dropFile,
  entry,
  onBench,
  opened,
  openRead,
  openRuota,
  pick,
  pixelsOfHue,
  placeOfLabel,
  type,
} from './person.ts';

// What a proposal rests on is lit in this colour.
const EVIDENCE_COLOUR = '#1c9a8c';
const ledger = (page: Page) => page.getByRole('region', { name: 'Ledger' });

test('a vendor model that nothing was tuned for is full after one press; one entry is corrected by a pick and kept', async ({ page }) => {
  await openRuota(page, '/shelf', { warm: true });
  await dropFile(page, 'turning-6.step', readFileSync(corpusFile('turning-6.step')));
  await onBench(page, 'turning-6.step');
  // What a proposal rests on is lit up while it is looked at.
  const offer = entry(page, 'Mount').locator('.ledger-offer');
  await expect(offer).toBeVisible({ timeout: 20_000 });
  const lit = () => pixelsOfHue(page, EVIDENCE_COLOUR);
  const before = await lit();
  await offer.hover();
  await expect.poll(lit).toBeGreaterThan(before + 500);
  await page.mouse.move(5, 5);
  await expect.poll(lit).toBeLessThan(before + 50);
  await acceptAll(page);
  await expect(ledger(page)).toContainText('marked and ready to build');
  await expect(entry(page, 'Facts')).toContainText('KAPR entering angle60°');
  await expect(entry(page, 'Facts')).toContainText('EPSR included angle60°');
  // The corner is taken again by hand: the tip is then picked, not read.
  const near = await placeOfLabel(page, /^Tip$/);
  await (await opened(page, 'Tip')).getByRole('button', { name: 'Remove Tip' }).click();
  await (await opened(page, 'Tip')).getByRole('button', { name: 'Pick on the model' }).click();
  await pick(page, /^rounded edge, radius 0\.[48]00/, { near, step: 5, behind: true });
  await expect(entry(page, 'Tip')).toContainText('picked · rounded edge');
  await page.reload();
  await onBench(page, 'turning-6.step');
  await expect(entry(page, 'Tip')).toContainText('picked · rounded edge');
  await expect(entry(page, 'Mount')).toContainText('read');
});

test('an STL has faces to point at, is read, and changes its unit as one step', async ({ page }) => {
  await openRuota(page);
  await chooseFile(page, corpusFile('turning-5.stl'));
  await onBench(page, 'turning-5.stl');
  await expect(entry(page, 'Unit')).toContainText('STL has no unit');
  await acceptAll(page);
  await expect(ledger(page)).toContainText('marked and ready to build');
  await expect(entry(page, 'Bodies')).toContainText('1 tool body · 1 cutting · 1 hardware');
  await expect(entry(page, 'Facts')).toContainText('KAPR entering angle93°');
  const lf = await entry(page, 'Facts').locator('.ledger-value').innerText();
  await pick(page, /^plane, normal/, { near: [0.55, 0.5] });
  await expect(page.getByRole('group', { name: 'Picked' })).toContainText('plane, normal');
  await page.keyboard.press('Escape');
  await opened(page, 'Unit');
  await choose(page, 'Unit of the file', 'inch');
  await expect(entry(page, 'Unit')).toContainText('taken as inch by hand', { timeout: 30_000 });
  // Marks have grown with the model.
  await expect(entry(page, 'Facts').locator('.ledger-value')).toHaveText(new RegExp(`LF ${(Number(lf.replace('LF ', '')) * 25.4).toFixed(1)}`), {
    timeout: 20_000,
  });
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(entry(page, 'Facts').locator('.ledger-value')).toHaveText(lf, { timeout: 20_000 });
  // Simulation geometry of a mesh is made like any other.
  await (await opened(page, 'Holder geometry')).getByRole('button', { name: 'Make' }).click();
  await expect(entry(page, 'Holder geometry')).toContainText('closed', { timeout: 60_000 });
});

test('a tool that is one solid gets its cutting part cut off, and back', async ({ page }) => {
  await openRead(page, 'boring-4.step');
  await expect(entry(page, 'Cutting part')).toContainText('one solid');
  await type(page, 'From the tip', '12', await opened(page, 'Cutting part'));
  await (await opened(page, 'Cutting part')).getByRole('button', { name: 'Cut a box' }).click();
  await expect(entry(page, 'Cutting part')).toContainText('a box of 12.000', { timeout: 60_000 });
  await expect(entry(page, 'Bodies')).toContainText('1 tool body · 1 cutting');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(entry(page, 'Bodies')).toContainText('1 tool body');
  await page.getByRole('button', { name: 'Redo' }).click();
  await page.reload();
  await onBench(page, 'boring-4.step');
  await expect(page.getByRole('group', { name: 'Bodies' })).toContainText('Cut 1');
  await (await opened(page, 'Cutting part')).getByRole('button', { name: 'Remove the cut a box of 12.000 around the corner' }).click();
  await expect(entry(page, 'Cutting part')).toContainText('one solid', { timeout: 60_000 });
});

test('a drill of one solid gets what cuts cut off by the press that takes everything else, and back', async ({ page }) => {
  await openRead(page, 'cutter-3.step');
  await expect(entry(page, 'Cutting part')).toContainText('cut off, 1', { timeout: 60_000 });
  await expect(entry(page, 'Bodies')).toContainText('1 tool body · 1 cutting');
  await expect(await opened(page, 'Facts')).toContainText('12.832');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(entry(page, 'Cutting part')).toContainText('one solid');
  await (await opened(page, 'Cutting part')).getByRole('button', { name: 'Cut off what cuts' }).click();
  await expect(entry(page, 'Cutting part')).toContainText('cut off, 1', { timeout: 60_000 });
});

/** Turns the mount round. Its entry grows while others are still drawn anew, and a press that began on the button may end beside it. */
async function flipZ(page: Page): Promise<void> {
  const towards = page.getByRole('combobox', { name: 'Z of the mount' });
  const before = await towards.inputValue();
  await expect(async () => {
    if ((await towards.inputValue()) === before) await (await opened(page, 'Mount')).getByRole('button', { name: 'Flip Z' }).click();
    await expect(towards).not.toHaveValue(before, { timeout: 3000 });
  }).toPass({ timeout: 30_000 });
}

test('mistakes are said and shown at once', async ({ page }) => {
  await openRuota(page);
  await chooseFile(page, demoFile('hub-bore-bar-16-inch.step'));
  await onBench(page, 'hub-bore-bar-16-inch.step');
  await acceptAll(page);
  await expect(await opened(page, 'Facts')).toContainText('Minimum bore against depth');
  await type(page, 'Designation', 'A16M-SCLCL 06', await opened(page, 'Facts'));
  await expect(page.getByRole('alert').first()).toContainText('the insert lies upside down');
  await expect(page.locator('.stage-label.wrong')).toContainText('upside down');
  await type(page, 'Designation', 'A16M-SCLCR 06', await opened(page, 'Facts'));
  await expect(ledger(page)).toContainText('marked and ready to build');
  await expect(entry(page, 'Facts')).toContainText('Agrees with A16M-SCLCR06');
  await type(page, 'Designation', 'my own bar', await opened(page, 'Facts'));
  await expect(entry(page, 'Facts')).toContainText('is no designation of ISO 1832, 5608 or 6261');
  await (await opened(page, 'Mount')).getByRole('button', { name: 'Edit mount' }).click();
  await flipZ(page);
  await expect(page.getByRole('alert').first()).toContainText('Z of the mount points away from the work');
  await flipZ(page);
  await (await opened(page, 'Mount')).getByRole('button', { name: 'Nudge' }).click();
  await expect(page.getByRole('alert').first()).toContainText('mm away along Z');
});

test('posing by picks: an axis is aligned and turned about, a point goes to the origin; steps are reordered and edited', async ({ page }) => {
  await openRuota(page);
  await chooseFile(page, demoFile('sleeve-32-16.step'));
  await onBench(page, 'sleeve-32-16.step');
  const panel = page.getByRole('group', { name: 'Picked' });
  await pick(page, /^cylinder, diameter 32\.000/);
  await expect(panel).toContainText('Direction');
  await choose(page, 'Make it point to', '+X');
  await panel.getByRole('button', { name: 'Make it point to' }).click();
  await expect(entry(page, 'Pose')).toContainText('Made axis point to +X');
  await pick(page, /^cylinder, diameter 32\.000.*axis parallel to X/);
  await panel.getByRole('button', { name: 'Move the point to the origin' }).click();
  await expect(entry(page, 'Pose')).toContainText('Moved to the origin: axis');
  await pick(page, /^cylinder, diameter 32\.000/);
  await type(page, 'Turn about it by', '30', panel);
  await panel.getByRole('button', { name: 'Turn about it' }).click();
  await expect(entry(page, 'Pose')).toContainText('3 steps');
  await (await opened(page, 'Pose')).getByRole('button', { name: 'Move step 3 up' }).click();
  await expect(entry(page, 'Pose').locator('.pose-step').nth(1)).toContainText('Turned about: axis');
  await choose(page, 'Where the step makes it point', '+Y');
  await expect((await opened(page, 'Pose')).getByRole('combobox', { name: 'Where the step makes it point' })).toHaveValue('+Y');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(entry(page, 'Pose').locator('.pose-step').nth(1)).toContainText('Moved to the origin');
});

test('faces and bodies take colours of their own', async ({ page }) => {
  await openRuota(page);
  await chooseFile(page, demoFile('sleeve-32-16.step'));
  await onBench(page, 'sleeve-32-16.step');
  await pick(page, /^cylinder, diameter 32\.000/);
  const blue = () => pixelsOfHue(page, '#3a6ea5');
  const before = await blue();
  const panel = page.getByRole('group', { name: 'Picked' });
  await panel.getByRole('button', { name: 'Add smooth neighbours' }).click();
  await panel.getByRole('button', { name: /^Colour/ }).click();
  await page.locator('.mantine-ColorPicker-swatch').nth(5).click();
  await expect(panel).toHaveCount(0);
  await page.mouse.move(5, 5);
  await expect.poll(blue).toBeGreaterThan(before + 2000);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(blue).toBeLessThan(before + 200);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect.poll(blue).toBeGreaterThan(before + 2000);
  await page.getByRole('button', { name: 'History' }).click();
  await expect(page.getByRole('menu')).toContainText('Colour of');
  await page.reload();
  await onBench(page, 'sleeve-32-16.step');
  await expect.poll(blue, { timeout: 20_000 }).toBeGreaterThan(before + 2000);
});

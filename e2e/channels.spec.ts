import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { test } from './fresh-profile.ts';
import { choose, openRuota } from './person.ts';

const side = (page: Page) => page.getByRole('region', { name: 'Trial' });
const show = (page: Page, tab: RegExp) => side(page).getByRole('radiogroup', { name: 'Shown below' }).getByText(tab).click();
const known = { timeout: 60_000 };

// The program that is shown is written anew.
async function write(page: Page, text: string): Promise<void> {
  await side(page).getByRole('button', { name: 'Change it here' }).click();
  const box = side(page).getByRole('textbox', { name: 'Text of the program' });
  await box.fill(text);
  await box.press('Control+Enter');
}

test('two turrets at one part: each has its program, they wait for each other, and what gets in the other one’s way is said', async ({ page }) => {
  await openRuota(page, '/carrier');
  // The demo’s lathe gets a second turret below the axis, with the turning holder in it.
  await page.getByText('machine and work').click();
  const [saved] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Write as a file' }).click()]);
  const machine = JSON.parse(readFileSync(await saved.path(), 'utf8')) as { carriers: object[] };
  const [upper] = machine.carriers;
  const two = { ...machine, name: 'Lathe with two turrets', carriers: [upper, { ...upper, id: 'lower-turret', name: 'lower turret', side: 'below' }] };
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('button', { name: 'From a file' }).click()]);
  await chooser.setFiles({ name: 'two.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(two)) });
  await page.getByRole('radiogroup', { name: 'Carrier' }).getByText('lower turret').click();
  await page
    .getByRole('group', { name: 'Stations of lower turret' })
    .getByRole('button', { name: /^Station 1, empty/ })
    .click();
  await page
    .getByRole('region', { name: /^Station 1$/ })
    .getByRole('button', { name: /^Hub turning/ })
    .press('Enter');
  await expect(page.getByRole('group', { name: 'Stations of lower turret' }).getByRole('button', { name: /^Station 1: Hub turning/ })).toBeVisible();
  // Its trial: the program there is goes to the turret above, the one that is added to the one below.
  await page.getByRole('link', { name: 'Trial', exact: true }).click();
  // Two tools have the number 1 now: nobody guesses which one its program means.
  await expect(side(page).getByRole('alert')).toContainText('line 5: T1 stands on upper turret and lower turret', known);
  await show(page, /^program/);
  await side(page).getByRole('button', { name: 'Another carrier' }).click();
  await expect(side(page).getByRole('combobox', { name: 'it moves' })).toHaveValue('lower turret');
  await expect(side(page)).toContainText('They wait for each other at M100 to M199');
  await write(page, 'T0101\nM101\nG0 X52. Z2.\nG1 Z-9. F0.2\nX64.\nM30');
  await expect(side(page).getByRole('alert')).toContainText('program-2.nc, line 2: it waits at M101, and hub-trial.nc never comes to it', known);
  const shown = side(page).getByRole('radiogroup', { name: 'Program shown' });
  await shown.getByText('1 hub-trial.nc').click();
  await expect(side(page).getByRole('combobox', { name: 'it moves' })).toHaveValue('upper turret');
  await write(page, 'T0101 M3 G97 S900\nG0 X64. Z2.\nM101\nX56.\nG1 Z-14. F0.2\nX64.\nG0 Z10.\nX10.\nG4 X5.\nM30');
  await show(page, /^events/);
  await expect(side(page).getByText(/cuts 1\.000 mm into the part/)).toBeVisible(known);
  // The one below is wrong: a press shows its moment, and its own program.
  await side(page)
    .getByRole('button', { name: /cuts into the part program-2\.nc, line 4/ })
    .click();
  await expect(page.getByRole('img', { name: 'Half section of the work' }).locator('.trial-edge')).toHaveCount(2);
  await show(page, /^program/);
  await expect(side(page).getByRole('button', { name: 'G1 Z-9. F0.2' })).toHaveAttribute('aria-current', 'step');
  await expect(shown.getByRole('radio', { name: '2 program-2.nc' })).toBeChecked();
  // On a larger diameter nothing is wrong; where both come to one place they touch.
  await write(page, 'T0101\nM101\nG0 X56. Z2.\nG1 Z-9. F0.2\nX64.\nM30');
  await expect(side(page).getByText('Nothing touches')).toBeVisible(known);
  await write(page, 'T0101\nM101\nG0 X56. Z2.\nG1 Z-9. F0.2\nX64.\nG0 Z10.\nG4 X5.\nX-40.\nM30');
  await show(page, /^events/);
  await expect(
    side(page)
      .getByText(/goes \d\.\d{3} mm into .*\(upper turret, lower turret; there line \d\)/)
      .first(),
  ).toBeVisible(known);
  // Kept, and given up again.
  await page.reload();
  await expect(
    side(page)
      .getByText(/upper turret, lower turret/)
      .first(),
  ).toBeVisible(known);
  await show(page, /^program/);
  await shown.getByText('2 program-2.nc').click();
  // One that is said to move the other one’s carrier is refused.
  await choose(page, 'it moves', 'upper turret');
  await expect(side(page).getByRole('alert')).toContainText('program-2.nc moves upper turret, and so does hub-trial.nc', known);
  // What was being typed into a program that is removed goes into no other one.
  await side(page).getByRole('button', { name: 'Change it here' }).click();
  await side(page).getByRole('textbox', { name: 'Text of the program' }).fill('G0 X1.');
  await side(page).getByRole('button', { name: 'Remove program program-2.nc' }).click();
  await expect(side(page).getByRole('textbox', { name: 'Text of the program' })).toHaveCount(0);
  await expect(side(page).getByRole('button', { name: 'T0101 M3 G97 S900' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await shown.getByText('2 program-2.nc').click();
  // Nor is guessed whose tool is meant.
  await choose(page, 'it moves', 'what has its tools');
  await expect(side(page).getByRole('alert')).toContainText('program-2.nc, line 1: T1 stands on upper turret and lower turret', known);
  await side(page).getByRole('button', { name: 'Remove program program-2.nc' }).click();
  await expect(shown).toHaveCount(0);
  await show(page, /^events/);
  // Alone it goes on at its mark, and that is said.
  await expect(side(page).getByText(/M101 waits for another channel, and there is none/)).toBeVisible(known);
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(
    side(page)
      .getByText(/upper turret, lower turret/)
      .first(),
  ).toBeVisible(known);
  // What is to come out is there: a cut of the one below goes into its own program.
  await show(page, /^cuts/);
  await side(page).getByRole('combobox', { name: 'edge' }).click();
  await page
    .getByRole('option', { name: /^1 Hub-turning holder 25 R/ })
    .last()
    .click();
  await expect(side(page).getByRole('button', { name: 'Add it to the program' })).toBeEnabled(known);
  await side(page).getByRole('button', { name: 'Add it to the program' }).click();
  await show(page, /^program/);
  await shown.getByText('2 program-2.nc').click();
  await expect(side(page).getByRole('button', { name: /^G96 S150/ })).toBeVisible();
  await shown.getByText('1 hub-trial.nc').click();
  await expect(side(page).getByRole('button', { name: /^G96 S150/ })).toHaveCount(0);
});

import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { strFromU8, unzipSync } from 'fflate';
import { test } from './fresh-profile.ts';
import { choose, opened, openRuota, pick, type } from './person.ts';

/** Puts tools on the Shelf by what stands on their boxes. */
async function addAll(page: Page, words: readonly (readonly [words: string, name: string])[]): Promise<void> {
  const line = page.getByRole('textbox', { name: 'Type a tool' });
  for (const [text, name] of words) {
    await line.fill(text);
    await expect(page.getByRole('status', { name: 'What was understood' }).locator('.typed-name')).toHaveText(name);
    await line.press('Enter');
    await expect(page.getByRole('link', { name, exact: true })).toBeVisible({ timeout: 60_000 });
  }
}
const gaugeLength = (page: Page) => page.getByTestId('gauge-length');
const piece = (page: Page, name: string) => page.locator('.piece-line').filter({ hasText: name });
const tried = (page: Page) => page.getByRole('region', { name: 'Tried' });
const assembly = (page: Page) => page.getByRole('region', { name: 'Assembly' });

async function startWith(page: Page, name: string): Promise<void> {
  await page.getByRole('link', { name, exact: true }).click();
  await expect(page.getByRole('region', { name: 'Ledger' })).toContainText('ready to build', { timeout: 30_000 });
  await page.getByRole('button', { name: 'Start an assembly' }).click();
}

test('a way is found, a piece exchanged with what it changes shown before, driven to a gauge length, and saved in parts', async ({ page }) => {
  await openRuota(page);
  await addAll(page, [
    ['sleeve 63 to 50', 'Sleeve 63 / 50'],
    ['sleeve 50 to 40', 'Sleeve 50 / 40'],
    ['sleeve 40 to 32', 'Sleeve 40 / 32'],
    ['sleeve 32 to 25', 'Sleeve 32 / 25'],
    ['sleeve 25 to 16', 'Sleeve 25 / 16'],
    ['A16M-SCLCR 09', 'A16M-SCLCR09'],
    ['A16R-SCLCR 09', 'A16R-SCLCR09'],
  ]);
  await startWith(page, 'Sleeve 63 / 50');
  // The bar does not go in by itself: through four sleeves it does, and the shorter way through the shop's own sleeve stands first.
  await page.locator('.free-seat-line').click();
  await page.getByText('do not fit there by themselves').click();
  await page.locator('.add-refused').filter({ hasText: 'A16M-SCLCR09' }).getByRole('button', { name: 'Find the way' }).click();
  await expect(page.getByRole('button', { name: /^through Sleeve/ }).first()).toContainText('Sleeve 32 to 16');
  await page.getByRole('button', { name: /^through Sleeve.*Sleeve 32 \/ 25/ }).click();
  await expect(tried(page)).toContainText('not taken yet');
  await tried(page).getByRole('button', { name: 'Take it' }).click();
  await expect(page.locator('.piece-line')).toHaveCount(6);
  // Five flanges of 5, and what the bar stands out of the last.
  await expect(gaugeLength(page)).toHaveText('76.000');
  await expect(assembly(page)).toContainText('A16M-SCLCR09 fits its bore in Sleeve 25 / 16', { timeout: 30_000 });
  await expect(assembly(page)).toContainText('Nothing goes through anything else');
  // Another bar: before and after stand side by side, and it can be left.
  await piece(page, 'A16M-SCLCR09').click();
  await page.getByRole('button', { name: 'Exchange' }).click();
  await page.getByRole('textbox', { name: 'Search what fits' }).fill('A16R');
  await page.getByRole('button', { name: /^A16R-SCLCR09/ }).click();
  await expect(tried(page)).toContainText('A16R-SCLCR09 instead of A16M-SCLCR09');
  await expect(page.locator('.numbers-table thead')).toContainText('before');
  // What would change the chain itself waits until that is decided; another one can be tried.
  await expect(page.getByRole('textbox', { name: 'stick-out' })).toBeDisabled();
  await expect(page.getByRole('button', { name: 'More' })).toBeDisabled();
  await page.getByRole('textbox', { name: 'Search what fits' }).fill('Hub-bore');
  await page.getByRole('button', { name: /^Hub-bore bar 16/ }).click();
  await expect(tried(page)).toContainText('Hub-bore bar 16 instead of A16M-SCLCR09');
  await page.getByRole('textbox', { name: 'Search what fits' }).fill('A16R');
  await tried(page).getByRole('button', { name: 'Leave it' }).click();
  await expect(piece(page, 'A16M-SCLCR09')).toBeVisible();
  await page.getByRole('button', { name: /^A16R-SCLCR09/ }).click();
  await tried(page).getByRole('button', { name: 'Take it' }).click();
  await expect(piece(page, 'A16R-SCLCR09')).toBeVisible();
  await expect(gaugeLength(page)).toHaveText('76.000');
  // Driven to a gauge length; the other values follow.
  await type(page, 'gauge length', '77.5');
  await expect(gaugeLength(page)).toHaveText('77.500');
  await expect(page.getByRole('textbox', { name: 'stick-out' })).toHaveValue('-147.500');
  // Its edge gets a number on the control.
  await page.getByRole('button', { name: 'Edge A16R-SCLCR09' }).click();
  await page.getByRole('textbox', { name: 'offset number' }).fill('12');
  await page.getByRole('textbox', { name: 'offset number' }).press('Enter');
  await page.getByRole('button', { name: 'No offset number' }).click();
  await expect(page.getByRole('textbox', { name: 'offset number' })).toHaveValue('');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.tip-table')).toContainText('12');
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Save from here as an assembly' }).click();
  // Step by step back to the bar of before, and on again.
  for (let i = 0; i < 4; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(piece(page, 'A16M-SCLCR09')).toBeVisible();
  await expect(gaugeLength(page)).toHaveText('76.000');
  for (let i = 0; i < 4; i++) await page.getByRole('button', { name: 'Redo' }).click();
  await page.reload();
  await expect(gaugeLength(page)).toHaveText('77.500');
  await expect(page.locator('.tip-table')).toContainText('12');
  await page.getByRole('button', { name: 'Hand over' }).click();
  const [download] = await Promise.all([page.waitForEvent('download', { timeout: 90_000 }), page.getByRole('button', { name: 'Write the package' }).click()]);
  const manifest = JSON.parse(strFromU8(unzipSync(new Uint8Array(readFileSync(await download.path())))['manifest.json'])) as {
    gaugeLength: number;
    pieces: unknown[];
  };
  expect([manifest.gaugeLength, manifest.pieces.length]).toEqual([77.5, 6]);
  await page.getByRole('link', { name: 'Shelf' }).click();
  await expect(page.getByRole('link', { name: 'Sleeve 63 / 50 assembly', exact: true })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Sleeve 63 / 50 assembly, from A16R-SCLCR09', exact: true })).toBeVisible();
});

test('what is sunk, pushed in too little, or taken out from under another is said', async ({ page }) => {
  await openRuota(page);
  await addAll(page, [
    ['sleeve 40 to 25', 'Sleeve 40 / 25'],
    ['sleeve 25 to 16', 'Sleeve 25 / 16'],
    ['A16M-SCLCR 09', 'A16M-SCLCR09'],
  ]);
  await startWith(page, 'Sleeve 40 / 25');
  for (const name of ['Sleeve 25 / 16', 'A16M-SCLCR09']) {
    await page.locator('.free-seat-line').last().click();
    await page
      .getByRole('button', { name: new RegExp(`^${name.replace(/[/]/g, '\\/')}`) })
      .last()
      .click();
    await expect(piece(page, name)).toBeVisible();
  }
  await expect(assembly(page)).toContainText('Nothing goes through anything else', { timeout: 30_000 });
  // The chain as a row: the bar lifted out, what could stand instead of it with what it would come to; tried, and left.
  await page.getByText('chain', { exact: true }).click();
  const row = page.getByRole('list', { name: 'The chain from the machine to the work' });
  await expect(row.getByRole('listitem')).toHaveCount(3);
  await expect(row.getByRole('listitem').nth(1)).toContainText('L 5.000');
  await row.getByRole('button', { name: 'A16M-SCLCR09, piece 3 of 3' }).click();
  const instead = page.getByRole('group', { name: 'In the place of A16M-SCLCR09' });
  await expect(instead.getByRole('button', { name: /^Hub-bore bar 16/ })).toContainText(/→ \d+\.\d{3}|the same length/, { timeout: 30_000 });
  await instead.getByRole('button', { name: /^Hub-bore bar 16/ }).click();
  await expect(tried(page)).toContainText('Hub-bore bar 16 instead of A16M-SCLCR09');
  await tried(page).getByRole('button', { name: 'Leave it' }).click();
  await expect(row.locator('path.cut-cutting').last()).toHaveAttribute('d', /^M/);
  await page.getByText('section', { exact: true }).click();
  await piece(page, 'Sleeve 25 / 16').click();
  await type(page, 'stick-out', '-0.3');
  await expect(assembly(page)).toContainText('Sleeve 25 / 16 is sunk 0.3 mm into the face of Sleeve 40 / 25.', { timeout: 30_000 });
  await expect(assembly(page)).toContainText(/goes 0\.3 mm deep into/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(assembly(page)).toContainText('Nothing goes through anything else', { timeout: 30_000 });
  await piece(page, 'A16M-SCLCR09').click();
  await type(page, 'pushed in by', '20');
  await expect(assembly(page)).toContainText('Only 20 mm of the bore of Sleeve 25 / 16 hold A16M-SCLCR09', { timeout: 30_000 });
  // The sleeve between is taken out: the bar has no seat below, which is said before.
  await piece(page, 'Sleeve 25 / 16').click();
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Take out, keep what hangs on it' }).click();
  await expect(tried(page)).toContainText('A16M-SCLCR09 no longer fits and would be taken out');
  await tried(page).getByRole('button', { name: 'Leave it' }).click();
  await expect(piece(page, 'A16M-SCLCR09')).toBeVisible();
});

test('a stick-out is slid, its limits felt; two assemblies are laid over one another; two picks are measured', async ({ page }) => {
  await openRuota(page);
  // Another state of the same station, to compare with.
  await page.getByRole('button', { name: 'What to do with Hub shell station' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await page.getByRole('link', { name: 'Hub shell station 2', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Hub shell station 2');
  await piece(page, 'Hub-bore bar 16').click();
  const handle = page.locator('.stage').getByRole('slider', { name: 'Stick-out of Hub-bore bar 16' });
  await expect(handle).toBeVisible();
  const said = () => handle.getAttribute('aria-valuetext');
  const before = await gaugeLength(page).innerText();
  const hold = async () => {
    const box = await handle.boundingBox();
    if (!box) throw new Error('there is no handle');
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    return [x, y] as const;
  };
  // Far out nothing is held, and further it does not go; Escape brings it back, and no step is left of it.
  let [x, y] = await hold();
  await page.mouse.move(x - 600, y + 300, { steps: 4 });
  await expect.poll(said).toContain('nothing is held any more');
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect(gaugeLength(page)).toHaveText(before);
  // Out by a little, seen while it is slid, and taken as one step; the other numbers follow.
  [x, y] = await hold();
  await page.mouse.move(x - 40, y + 18, { steps: 4 });
  await expect(gaugeLength(page)).not.toHaveText(before);
  await page.mouse.up();
  const slid = Number(await gaugeLength(page).innerText());
  expect(slid).toBeGreaterThan(Number(before) + 5);
  const out = Number(await page.getByRole('textbox', { name: 'stands out by' }).inputValue());
  // What is read is round, and the gauge length has changed by as much.
  expect(Math.abs(out * 10 - Math.round(out * 10))).toBeLessThan(1e-6);
  expect(out - 59.998).toBeCloseTo(slid - Number(before), 3);
  // In the section by keys: the same handle, a step each.
  await page.locator('.strip').getByRole('slider', { name: 'Stick-out of Hub-bore bar 16' }).focus();
  await page.keyboard.press('Shift+ArrowLeft');
  await expect(gaugeLength(page)).toHaveText((slid - 1).toFixed(3));
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(gaugeLength(page)).toHaveText(slid.toFixed(3));
  // Beside the one it came from.
  await choose(page, 'Compare with', 'Hub shell station');
  await expect(page.locator('.numbers-table thead')).toContainText('Hub shell station');
  await expect(page.locator('.gauge-before')).toContainText(before);
  await expect(page.locator('.strip-made').first()).toBeAttached();
  // How far the front of the sleeve stands before the block: by its drawing, 18.
  await page.locator('.stage').focus();
  await page.keyboard.press('m');
  await pick(page, /^Sleeve 32 to 16: plane, normal parallel to Z/, { near: [0.35, 0.48], step: 4 });
  await expect(page.getByRole('group', { name: 'Measured' })).toContainText('Pick what to measure to');
  await pick(page, /^Station block 40: plane, normal parallel to Z/, { near: [0.4, 0.55] });
  const measured = page.getByRole('group', { name: 'Measured' });
  await expect(measured).toContainText('plane to plane');
  await expect(measured.getByRole('row', { name: /^distance/ })).toContainText('18.000');
  await expect(measured.getByRole('row', { name: /^angle/ })).toContainText('0°');
  await page.reload();
  await expect(gaugeLength(page)).toHaveText(slid.toFixed(3));
});

test('what is programmed of an edge is chosen or picked; a saved part of a chain goes onto a seat as a whole', async ({ page }) => {
  await openRuota(page, '/');
  await expect(gaugeLength(page)).toHaveText('148.000');
  const edge = () => page.getByRole('button', { name: 'Edge Hub-bore bar 16' }).click();
  await edge();
  // Each choice says what it would change: the nose radius is 0.4.
  await page.getByRole('combobox', { name: 'programmed point' }).click();
  await page.getByRole('option', { name: 'nose centre, L 147.600 Q 10.600' }).click();
  await expect(gaugeLength(page)).toHaveText('147.600');
  await page.getByRole('button', { name: 'Pick it on the stage' }).click();
  await expect(page.getByText('Pick the point that is programmed')).toBeVisible();
  // The front of the sleeve: 88 in front of the gauge line.
  await pick(page, /^Sleeve 32 to 16: (circle|rounded edge|corner|plane)/, { near: [0.35, 0.48], step: 4 });
  await expect(page.getByText(/^L 147\.600 is now /)).toBeVisible();
  await expect(gaugeLength(page)).toHaveText(/^8[78]\./);
  // Armed again, it is left by Escape, and a click selects as ever.
  await edge();
  await page.getByRole('button', { name: 'Pick it on the stage' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Pick the point that is programmed')).toHaveCount(0);
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(gaugeLength(page)).toHaveText('148.000');
  await page.getByText('Minimum bore against depth').click();
  await expect(page.locator('.bore-block')).toContainText('it goes into no bore');
  // The sleeve with its bar is saved, taken out, and put back as one.
  await piece(page, 'Sleeve 32 to 16').click();
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Save from here as an assembly' }).click();
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Take out with all that hangs on it' }).click();
  await expect(piece(page, 'Hub-bore bar 16')).toHaveCount(0);
  await page.locator('.free-seat-line').first().click();
  await page
    .getByRole('group', { name: 'Assemblies that fit' })
    .getByRole('button', { name: /from Sleeve 32 to 16 2 pieces$/ })
    .click();
  await expect(tried(page)).toContainText('not taken yet');
  await tried(page).getByRole('button', { name: 'Take it' }).click();
  await expect(piece(page, 'Hub-bore bar 16')).toBeVisible();
  await expect(gaugeLength(page)).toHaveText('148.000');
  // The lengths of the chain stand on the section; the sleeve's is typed there, and the bar goes along. Its block's own is no choice.
  const section = page.locator('.strip');
  await expect(section.getByRole('button', { name: /Length of Station block 40/ })).toHaveCount(0);
  await section.getByRole('button', { name: /^18\.000: Length of Sleeve 32 to 16/ }).click();
  await section.getByRole('textbox', { name: 'Length of Sleeve 32 to 16' }).fill('20.5');
  await page.keyboard.press('Enter');
  await expect(gaugeLength(page)).toHaveText('150.500');
  // By keys, and left as it was.
  await section.getByRole('button', { name: /^L 150\.500: L of Hub-bore bar 16/ }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type('99');
  await page.keyboard.press('Escape');
  await expect(gaugeLength(page)).toHaveText('150.500');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(gaugeLength(page)).toHaveText('148.000');
  // Told from the sleeve's bore instead of the mount: each place says what it would be.
  await page.getByRole('button', { name: 'from the mount, VDI 40' }).click();
  await page.getByRole('radio', { name: 'Bore of Sleeve 32 to 16 60.000' }).click();
  await expect(gaugeLength(page)).toHaveText('60.000');
  await expect(page.locator('.tip-table')).toContainText('-26.000');
  await page.getByRole('button', { name: 'from Bore of Sleeve 32 to 16' }).click();
  await page.getByRole('button', { name: 'Pick it on the stage' }).click();
  await expect(page.getByText('Pick where the gauge line stands')).toBeVisible();
  await pick(page, /^Station block 40: plane, normal parallel to Z/, { near: [0.42, 0.57] });
  await expect(page.getByText(/^The gauge length 60\.000 is now 78\.000/)).toBeVisible();
  await page.reload();
  await expect(gaugeLength(page)).toHaveText('78.000');
  await page.getByRole('button', { name: 'from a point of Station block 40' }).click();
  await page.getByRole('radio', { name: 'the mount, VDI 40' }).click();
  await expect(gaugeLength(page)).toHaveText('148.000');
  // On the Bench its seat is said to close, and to hold more than twice the shank: Build says so.
  await piece(page, 'Sleeve 32 to 16').click();
  await page.getByRole('link', { name: 'To the Bench' }).click();
  const seats = await opened(page, 'Seats');
  await seats.getByRole('button', { name: 'Edit Bore' }).click();
  await type(page, 'clamps from', '15', seats);
  await expect(seats).toContainText('cylindrical 15 to 16');
  await type(page, 'holds at least', '95', seats);
  await page.getByRole('link', { name: 'Build' }).click();
  await expect(assembly(page)).toContainText('Hub-bore bar 16 is pushed in by 90 mm; Bore wants 95 mm at least.');
});

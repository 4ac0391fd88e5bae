import { expect, type Page } from '@playwright/test';
import { test } from './fresh-profile.ts';
import { choose, countCalls, dropFile, entry, opened, openRuota, type } from './person.ts';

const line = (page: Page) => page.getByRole('textbox', { name: 'Type a tool' });
const understood = (page: Page) => page.getByRole('status', { name: 'What was understood' });

/** Types a tool on the Shelf and waits until it stands there. */
async function add(page: Page, words: string, name: string): Promise<void> {
  await line(page).fill(words);
  await expect(understood(page).locator('.typed-name')).toHaveText(name);
  await line(page).press('Enter');
  await expect(page.getByRole('link', { name, exact: true })).toBeVisible({ timeout: 60_000 });
  await expect(line(page)).toHaveValue('');
}

test('tools are typed on one line each, an assembly is built of them, and a number is changed later', async ({ page }) => {
  await openRuota(page);
  for (const [words, name] of [
    ['sleeve 32 to 16', 'Sleeve 32 / 16'],
    ['a16m-sclcr 09', 'A16M-SCLCR09'],
    ['drill 8,5 x 110', 'Drill 8.5'],
    ['M8 tap', 'Tap M8'],
    ['CNMG 120408', 'CNMG120408'],
  ] as const)
    await add(page, words, name);
  // A chain of two of them: the bar stands in the sleeve.
  await page.getByRole('link', { name: 'Sleeve 32 / 16', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Ledger' })).toContainText('ready to build', { timeout: 30_000 });
  await page.getByRole('button', { name: 'Start an assembly' }).click();
  await page.locator('.free-seat-line').click();
  await page.getByRole('button', { name: /A16M-SCLCR09/ }).click();
  await expect(page.getByTestId('gauge-length')).toBeVisible();
  await expect(page.getByText(/overlap|sunk/i).filter({ hasText: 'mm deep' })).toHaveCount(0);
  // Longer, on the Bench: what follows from it follows, and undo takes it back.
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByRole('link', { name: 'Drill 8.5', exact: true }).click();
  const data = await opened(page, 'Data');
  await expect(data.getByRole('textbox', { name: 'overall length of the data' })).toHaveValue('110.000');
  await type(page, 'overall length of the data', '130', data);
  await expect(data.locator('.data-row').filter({ hasText: 'LS' })).toContainText('55.000', { timeout: 30_000 });
  await expect(entry(page, 'Facts')).toContainText('130.000');
  // What cannot be is said, and nothing changes.
  await type(page, 'length of the cutting part of the data', '140', data);
  await expect(data.getByRole('alert')).toContainText('at most 129');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(entry(page, 'Facts')).toContainText('110.000');
  await page.reload();
  await expect(entry(page, 'Data')).toContainText('drill');
  await expect(entry(page, 'Facts')).toContainText('110.000');
});

test('speed and feed are usual until somebody says them; speed follows from diameter, and back', async ({ page }) => {
  await openRuota(page);
  await add(page, 'end mill 10 z4 carbide', 'End mill 10');
  await page.getByRole('link', { name: 'End mill 10', exact: true }).click();
  await expect((await opened(page, 'Data')).getByRole('textbox', { name: 'number of teeth of the data' })).toHaveValue('4');
  const cutting = await opened(page, 'Cutting data');
  await expect(cutting).toContainText('HC · M3');
  const speed = cutting.getByRole('textbox', { name: 'Surface speed in M' });
  await expect(speed).toHaveValue('80');
  // 1000 v / (pi d)
  await expect(cutting.getByRole('textbox', { name: 'Spindle speed in M' })).toHaveValue('2546');
  await type(page, 'Spindle speed in M', '3000', cutting);
  await expect(speed).toHaveValue('94.2');
  await type(page, 'speed at diameter', '20', cutting);
  await expect(cutting.getByRole('textbox', { name: 'Spindle speed in M' })).toHaveValue('1500');
  await choose(page, 'coolant', 'through the tool');
  await page.reload();
  await opened(page, 'Cutting data');
  await expect(speed).toHaveValue('94.2');
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByRole('checkbox', { name: /through the tool/ }).check();
  await expect(page.getByRole('link', { name: 'End mill 10', exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'End mill 10', exact: true }).click();
  await opened(page, 'Cutting data');
  await page.getByRole('button', { name: 'Values in M as usual' }).click();
  await expect(speed).toHaveValue('80');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(speed).toHaveValue('94.2');
});

test('in Build a tool is typed where one is free: it is made, put there, and what does not fit is said', async ({ page }) => {
  await openRuota(page);
  await add(page, 'collet er32 d10', 'Collet ER 32 / 10');
  await page.getByRole('link', { name: 'Collet ER 32 / 10', exact: true }).click();
  await page.getByRole('button', { name: 'Start an assembly' }).click();
  await page.locator('.free-seat-line').click();
  const search = page.getByRole('textbox', { name: 'Search the Shelf' });
  await search.fill('drill 8');
  await expect(page.getByRole('button', { name: /^Make Drill 8/ })).toBeDisabled();
  await expect(page.locator('.typed-row')).toContainText('10');
  await search.fill('end mill 10 r0.5');
  await expect(page.locator('.typed-row')).toContainText('overall length 72.000');
  await page.getByRole('button', { name: /^Make End mill 10/ }).click();
  await expect(page.getByText('End mill 10 R0.5').first()).toBeVisible({ timeout: 60_000 });
  await expect(page.locator('.free-seat-line')).toHaveCount(0);
  await expect(page.getByTestId('gauge-length')).toBeVisible();
});

test('what is not understood is said at its word, and nothing is added', async ({ page }) => {
  await openRuota(page);
  await line(page).fill('drill 8.5 wobbly');
  await expect(understood(page)).toContainText('“wobbly”: nothing is known by this word');
  await expect(page.getByRole('button', { name: 'Add it' })).toBeDisabled();
  await line(page).fill('ball end mill 8 r3');
  await expect(understood(page)).toContainText('RE: corner radius 3, but DC / 2 gives 4');
  await line(page).fill('slot cutter 20');
  await expect(understood(page)).toContainText('CW is missing');
  await line(page).press('Enter');
  await expect(page.getByText('16 kept in this browser')).toBeVisible();
});

const TABLE = 'Art;Durchmesser;Gesamtlänge;Notiz\nBohrer;8,5;117;Spannloch\nReibahle;10;133;\nBohrer;acht;100;\nSchaftfräser;12;83;\n';

test('a table of tools is read, a wrong cell is mended, all are added as one step, and a second time renewed', async ({ page }) => {
  await openRuota(page);
  await dropFile(page, 'tools.csv', new TextEncoder().encode(TABLE));
  await expect(page).toHaveURL(/shelf\/table$/);
  await expect(page.getByText('3 of 4 rows are tools; 1 is not yet.')).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'What Durchmesser is' })).toHaveValue('DC cutting diameter');
  await expect(page.getByRole('row').filter({ hasText: 'End mill 12' })).toContainText('OAL 83.000');
  await choose(page, 'What Notiz is', 'tags');
  // The wrong cell, where it stands.
  const cell = page.getByRole('textbox', { name: 'Durchmesser of row 4' });
  await cell.fill('6,8');
  await cell.press('Enter');
  await expect(page.getByText('4 of 4 rows are tools.')).toBeVisible();
  await page.getByRole('button', { name: 'Add 4 tools' }).click();
  await expect(page).toHaveURL(/shelf$/, { timeout: 60_000 });
  for (const name of ['Drill 8.5', 'Reamer 10', 'Drill 6.8', 'End mill 12']) await expect(page.getByRole('link', { name, exact: true })).toBeVisible();
  await expect(page.getByText('20 kept in this browser')).toBeVisible();
  // A tool that is there by its name is made anew.
  await page.getByRole('link', { name: 'Tools of a table' }).click();
  await page.getByRole('textbox', { name: 'Pasted cells' }).fill('kind\tD\tOAL\tNotiz\ndrill\t8.5\t120\t\ndrill\t8.5\t130\t\n');
  await page.getByRole('button', { name: 'Read them' }).click();
  // What was said of a header is remembered.
  await expect(page.getByRole('combobox', { name: 'What Notiz is' })).toHaveValue('tags');
  await page.getByRole('button', { name: 'Add 2 tools' }).click();
  await expect(page.getByText('1 was there and is made anew')).toBeVisible({ timeout: 30_000 });
  // The second row of that name is another tool.
  await expect(page.getByRole('link', { name: 'Drill 8.5 2', exact: true })).toBeVisible();
  await expect(page.getByText('21 kept in this browser')).toBeVisible();
  // Both steps are taken back, one press each.
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('16 kept in this browser')).toBeVisible();
});

test('what is on its way to the storage is counted, and a page that cannot keep it asks before it goes', async ({ page }) => {
  await openRuota(page);
  await expect(page.getByText('16 kept in this browser')).toBeVisible();
  // Another tab writes, and takes long; what a page can keep as it goes is nearly full.
  await page.evaluate(() => {
    localStorage.setItem('filled by something else', 'x'.repeat(5_150_000));
    void navigator.locks.request('ruota-records', () => new Promise<void>((done) => Object.assign(window, { otherTabEnds: done })));
  });
  const rows = Array.from({ length: 400 }, (_, i) => `Drill;${3 + i / 100};${60 + (i % 50)}`);
  await dropFile(page, 'many.csv', new TextEncoder().encode(`Kind;DC;OAL\n${rows.join('\n')}\n`));
  await page.getByRole('button', { name: 'Add 400 tools' }).click();
  await expect(page.getByText('416 kept in this browser')).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('400 to store')).toBeVisible();
  const asked = page.waitForEvent('dialog');
  await page.evaluate(() => void setTimeout(() => location.reload(), 0));
  const dialog = await asked;
  expect(dialog.type()).toBe('beforeunload');
  await dialog.dismiss();
  await page.evaluate(() => (window as unknown as { otherTabEnds: () => void }).otherTabEnds());
  await expect(page.getByText('to store')).toHaveCount(0, { timeout: 60_000 });
  // Nothing asks now.
  await page.reload();
  await expect(page.getByText('416 kept in this browser')).toBeVisible({ timeout: 60_000 });
});

test('what one tab adds by the hundred another one has too, and reads each item of the storage once for it', async ({ page, context }) => {
  const other = await context.newPage();
  const reads = await countCalls(other, 'IDBObjectStore', 'get', 'buckets');
  await openRuota(other);
  await openRuota(page);
  for (const tab of [page, other]) await expect(tab.getByText('16 kept in this browser')).toBeVisible();
  const before = await reads();
  await dropFile(page, 'many.csv', new TextEncoder().encode(`Kind;DC;OAL\n${Array.from({ length: 600 }, (_, i) => `Drill;${3 + i / 100};60`).join('\n')}\n`));
  await page.getByRole('button', { name: 'Add 600 tools' }).click();
  await expect(other.getByText('616 kept in this browser')).toBeVisible({ timeout: 60_000 });
  // There are 256 of them.
  expect((await reads()) - before).toBeLessThanOrEqual(256);
});

test('tabs that begin together on an empty profile have the demo data once, and nothing is in the way of another', async ({ page, context }) => {
  const tabs = [page, await context.newPage(), await context.newPage()];
  const errors: Error[] = [];
  for (const tab of tabs) tab.on('pageerror', (e) => errors.push(e));
  await Promise.all(tabs.map((tab) => openRuota(tab)));
  for (const tab of tabs) await expect(tab.getByText('16 kept in this browser')).toBeVisible({ timeout: 60_000 });
  await page.waitForTimeout(2000);
  for (const tab of tabs) await expect(tab.getByRole('alert')).toHaveCount(0);
  await page.reload();
  await expect(page.getByText('16 kept in this browser')).toBeVisible({ timeout: 60_000 });
  expect(errors).toEqual([]);
});

import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { strFromU8, unzipSync } from 'fflate';
import { test } from './fresh-profile.ts';
import { choose, countCalls, dropDemo, dropFile, opened, openRuota, type } from './person.ts';

const line = (page: Page) => page.getByRole('textbox', { name: 'Type a tool' });
const rail = (page: Page) => page.getByRole('complementary', { name: 'Sets and filters' });
const search = (page: Page) => page.getByRole('textbox', { name: 'Search' });
const names = (page: Page) => page.locator('.card-name').allTextContents();

/** Types tools on the Shelf, one line each. */
async function addAll(page: Page, ...lines: string[]): Promise<void> {
  for (const words of lines) {
    await line(page).fill(words);
    await line(page).press('Enter');
    await expect(line(page)).toHaveValue('');
  }
}

async function newSet(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'New set' }).click();
  await page.getByRole('textbox', { name: 'Name of the new set' }).fill(name);
  await page.getByRole('textbox', { name: 'Name of the new set' }).press('Enter');
  await expect(rail(page).getByRole('button', { name: new RegExp(`^${name} 0$`) })).toHaveAttribute('aria-pressed', 'true');
}

/** What the page hands over as a download. */
async function download(page: Page, press: () => Promise<void>): Promise<Uint8Array> {
  const [file] = await Promise.all([page.waitForEvent('download', { timeout: 60_000 }), press()]);
  return readFileSync(await file.path());
}

test('one among many is found by words, numbers and what it is; each choice says how many there are', async ({ page }) => {
  await openRuota(page);
  await addAll(page, 'drill 8.5 x 110', 'drill 10', 'reamer 10', 'end mill 12 r1', 'dclnl 2525 m12');
  await search(page).fill('DC=10');
  await expect.poll(() => names(page)).toEqual(['Drill 10', 'Reamer 10']);
  await rail(page)
    .getByRole('checkbox', { name: /^reamer 1$/ })
    .check();
  await expect.poll(() => names(page)).toEqual(['Reamer 10']);
  // The other choice says what it would give.
  await expect(rail(page).getByRole('checkbox', { name: /^drill 1$/ })).toBeVisible();
  await page.getByRole('button', { name: 'Show all again' }).first().click();
  await search(page).fill('DC>8 colour=red');
  await expect(page.getByRole('alert')).toContainText('“colour”: neither a number of a tool');
  // As a table, by a number; and kept by a name.
  await search(page).fill('DC>=8');
  await page.locator('.search-bar').getByText('Table', { exact: true }).click();
  await page.getByRole('columnheader', { name: 'DC' }).getByRole('button').click();
  await page.getByRole('columnheader', { name: 'DC' }).getByRole('button').click();
  await expect.poll(() => names(page)).toEqual(['End mill 12 R1', 'Drill 10', 'Reamer 10', 'Drill 8.5']);
  await expect(page.getByRole('row', { name: 'End mill 12 R1' })).toContainText('12.000');
  await page.getByRole('button', { name: 'Kept filters' }).click();
  await page.getByRole('textbox', { name: 'Name of this search' }).fill('large ones');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await page.keyboard.press('Escape');
  await page.reload();
  await expect(page.getByText('21 found')).toBeVisible();
  await page.getByRole('button', { name: 'Kept filters' }).click();
  await page.getByRole('menuitem', { name: 'large ones' }).click();
  await expect(page.getByText('4 found')).toBeVisible();
  // The table and the order are as they were left.
  await expect.poll(() => names(page)).toEqual(['End mill 12 R1', 'Drill 10', 'Reamer 10', 'Drill 8.5']);
  // All of it is tagged at once, one undo takes it back, and the table is written.
  await page.getByRole('checkbox', { name: 'Select all 4' }).check();
  await search(page).fill('DC=10');
  await expect(page.getByRole('region', { name: 'Selected' })).toContainText('2 of them not among those found');
  await search(page).fill('DC>=8');
  const selected = page.getByRole('region', { name: 'Selected' });
  await selected.getByRole('button', { name: 'Tags' }).click();
  await page.getByRole('combobox', { name: 'Tags that all of them have' }).fill('hub shell');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Take these' }).click();
  await expect(rail(page).getByRole('checkbox', { name: /^hub shell 4$/ })).toBeVisible();
  const table = strFromU8(await download(page, () => selected.getByRole('button', { name: 'Write as a table' }).click()));
  expect(table).toMatch(/^name,kind,[\s\S]*End mill 12 R1,end mill,[^\n]*hub shell/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(rail(page).getByRole('checkbox', { name: /^hub shell/ })).toHaveCount(0);
});

test('a set of a job is brought over from the master shelf, says what has changed there, and takes it over', async ({ page }) => {
  await openRuota(page);
  await addAll(page, 'drill 8.5 x 110', 'reamer 10');
  await newSet(page, 'Hub shell run 2');
  await expect(page.getByText('Nothing is in this set yet')).toBeVisible();
  // What is typed while a set is open is in it.
  await addAll(page, 'M8 tap');
  await expect.poll(() => names(page)).toEqual(['Tap M8']);
  // Two pieces and an assembly come over from the master shelf, the assembly with its pieces.
  await rail(page)
    .getByRole('button', { name: /^Master shelf/ })
    .click();
  for (const name of ['Hub shell station', 'Drill 8.5', 'Reamer 10'])
    await page.getByRole('checkbox', { name: `Select ${name}`, exact: true }).check({ force: true });
  await page.getByRole('region', { name: 'Selected' }).getByRole('button', { name: 'Bring over to a set' }).click();
  const dialog = page.getByRole('dialog', { name: 'Bring over to a set' });
  await expect(dialog.getByRole('combobox', { name: 'To' })).toHaveValue('Hub shell run 2');
  await expect(dialog.getByRole('status')).toContainText('7 new, 4 of the 7 because others are made of them');
  await dialog.getByRole('button', { name: 'Bring 7 over' }).click();
  await expect(rail(page).getByRole('button', { name: /^Hub shell run 2 8$/ })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('article', { name: 'Hub shell station' })).toContainText('4 pieces');
  // The original gets longer.
  await rail(page)
    .getByRole('button', { name: /^Master shelf/ })
    .click();
  await page.getByRole('link', { name: 'Drill 8.5', exact: true }).click();
  await type(page, 'overall length of the data', '130', await opened(page, 'Data'));
  await page.getByRole('link', { name: 'Shelf' }).click();
  await rail(page)
    .getByRole('button', { name: /^Hub shell run 2/ })
    .click();
  await expect(page.getByText('The original of Drill 8.5 has changed.')).toBeVisible();
  await page.getByRole('button', { name: 'Take over what Drill 8.5 has become' }).click();
  await expect(page.getByText('The original of Drill 8.5 has changed.')).toHaveCount(0);
  await search(page).fill('OAL=130');
  await expect.poll(() => names(page)).toEqual(['Drill 8.5']);
  await search(page).fill('');
  // One of the same name on the master shelf is not written over unasked.
  await page.getByRole('checkbox', { name: 'Select Tap M8', exact: true }).check({ force: true });
  await rail(page)
    .getByRole('button', { name: /^Master shelf/ })
    .click();
  await addAll(page, 'M8 tap');
  await rail(page)
    .getByRole('button', { name: /^Hub shell run 2/ })
    .click();
  await page.getByRole('button', { name: 'What to do with the set Hub shell run 2' }).click();
  await page.getByRole('menuitem', { name: 'Bring all of it over' }).click();
  await choose(page, 'To', 'the master shelf');
  await expect(dialog.getByRole('status')).toContainText('8 there already');
  await page.keyboard.press('Escape');
  // Taken apart, and back.
  await page.getByRole('button', { name: 'What to do with the set Hub shell run 2' }).click();
  await page.getByRole('menuitem', { name: 'Delete it with all in it' }).click();
  await expect(page.getByText('19 kept in this browser')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(rail(page).getByRole('button', { name: /^Hub shell run 2 8$/ })).toBeVisible();
});

test('all of it is written as one file, the browser is emptied, and all comes back, vendor files too', async ({ page }) => {
  await openRuota(page);
  await dropDemo(page, 'sleeve-32-16.step');
  await expect(page.locator('.stage canvas')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('link', { name: 'Shelf' }).click();
  await newSet(page, 'Lathe 2');
  await addAll(page, 'drill 8.5 x 110', 'dclnl 2525 m12');
  await rail(page)
    .getByRole('button', { name: /^Everything/ })
    .click();
  const before = await names(page);
  const all = async () => {
    await page.getByRole('button', { name: 'Whole Shelf' }).click();
    await page.getByRole('menuitem', { name: 'Write all of it as one file' }).click();
  };
  const bytes = await download(page, all);
  const files = Object.keys(unzipSync(bytes));
  expect(files).toEqual(expect.arrayContaining(['shelf.json', 'records.jsonl', expect.stringMatching(/^files\/.*sleeve-32-16\.step$/)]));
  // Another browser, as it were: nothing at all is left.
  await page.evaluate(async () => {
    for (const { name } of await indexedDB.databases()) if (name) indexedDB.deleteDatabase(name);
    localStorage.clear();
  });
  await page.goto('/shelf');
  await expect(page.getByText('16 kept in this browser')).toBeVisible();
  await dropFile(page, 'all.ruota-shelf.zip', bytes);
  const dialog = page.getByRole('dialog', { name: /^Bring in all/ });
  await expect(dialog.getByRole('status')).toContainText('26 records');
  await expect(dialog).toContainText('4 are not here yet');
  await dialog.getByRole('button', { name: 'Bring in 4' }).click();
  await expect(page.getByText('19 kept in this browser')).toBeVisible();
  expect(await names(page)).toEqual(before);
  await expect(rail(page).getByRole('button', { name: /^Lathe 2 2$/ })).toBeVisible();
  // The vendor's file is there: its model is made of it again.
  await page.getByRole('link', { name: 'sleeve-32-16', exact: true }).click();
  await expect(page.locator('.stage canvas')).toBeVisible({ timeout: 60_000 });
  // A second time nothing is new; a copy of before is kept.
  await page.getByRole('link', { name: 'Shelf' }).click();
  await dropFile(page, 'all.ruota-shelf.zip', bytes);
  await expect(dialog.getByRole('button', { name: 'Nothing to bring in' })).toBeDisabled();
  await dialog.getByRole('button', { name: 'Leave it' }).click();
  await expect(page.getByRole('button', { name: '1 earlier copy' })).toBeVisible();
});

test('a full disk is said, nothing is lost, and it is written as soon as there is room', async ({ page }) => {
  await openRuota(page);
  await expect(page.getByText('16 kept in this browser')).toBeVisible();
  await expect(page.getByLabel('Storage')).toContainText('free', { timeout: 15_000 });
  // The browser has no way to make its disk small: writes fail as they do on a full one.
  await page.evaluate(() => {
    const real = Object.getOwnPropertyDescriptor(IDBObjectStore.prototype, 'put') as PropertyDescriptor;
    Object.assign(window, { freeDisk: () => Object.defineProperty(IDBObjectStore.prototype, 'put', real) });
    let writes = 0;
    IDBObjectStore.prototype.put = function put(this: IDBObjectStore, ...given: Parameters<IDBObjectStore['put']>) {
      // Of the records some still fit, all later ones do not: what was written must not be taken for another tab's.
      const n = this.name === 'buckets' ? writes++ : 0;
      if (n !== 0 && n !== 3) throw new DOMException('the disk is full', 'QuotaExceededError');
      return (real.value as IDBObjectStore['put']).apply(this, given);
    };
  });
  await addAll(page, 'drill 8.5 x 110', 'reamer 10', 'M8 tap', 'collet er32 d10');
  const fault = page.getByRole('alert').filter({ hasText: 'not saved' });
  await expect(fault).toBeVisible({ timeout: 15_000 });
  // It goes on in memory, and can be written to a file.
  await expect(page.getByText('20 kept in this browser')).toBeVisible();
  const bytes = await download(page, async () => {
    await page.getByRole('button', { name: 'Whole Shelf' }).click();
    await page.getByRole('menuitem', { name: 'Write all of it as one file' }).click();
  });
  expect(strFromU8(unzipSync(bytes)['records.jsonl'])).toContain('"Reamer 10"');
  await page.evaluate(() => (window as unknown as { freeDisk: () => void }).freeDisk());
  await expect(fault).toHaveCount(0, { timeout: 30_000 });
  await page.reload();
  await expect(page.getByText('20 kept in this browser')).toBeVisible();
});

test('in a set an assembly is built of what is in it and of the master shelf, which is brought over with the piece', async ({ page }) => {
  await openRuota(page);
  await addAll(page, 'end mill 10');
  await newSet(page, 'Run 3');
  await addAll(page, 'collet er32 d10');
  await page.getByRole('link', { name: 'Collet ER 32 / 10', exact: true }).click();
  await page.getByRole('button', { name: 'Start an assembly' }).click();
  await page.locator('.free-seat-line').click();
  await page.getByRole('button', { name: /^End mill 10/ }).click();
  await expect(page.locator('.free-seat-line')).toHaveCount(0);
  await page.getByRole('link', { name: 'Shelf' }).click();
  await expect(rail(page).getByRole('button', { name: /^Run 3 3$/ })).toBeVisible();
  await expect(rail(page).getByRole('button', { name: /^Master shelf 17$/ })).toBeVisible();
  // One step of the history: the piece and what was brought over for it.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(rail(page).getByRole('button', { name: /^Run 3 2$/ })).toBeVisible();
});

test('what an older version kept record by record is taken over, and stays', async ({ page }) => {
  await openRuota(page);
  await expect(page.getByText('16 kept in this browser')).toBeVisible();
  const old = { kind: 'assembly', version: 1, id: 'old', name: 'From before', pieces: [], createdAt: '2026-01-01', changedAt: '2026-01-01' };
  await page.evaluate(async (record) => {
    const db = await new Promise<IDBDatabase>((resolve) => {
      const request = indexedDB.open('ruota');
      request.onsuccess = () => resolve(request.result);
    });
    const change = db.transaction('records', 'readwrite');
    change.objectStore('records').put({ revision: 3, record }, 'old');
    await new Promise((resolve) => (change.oncomplete = resolve));
    db.close();
  }, old);
  for (let k = 0; k < 2; k++) {
    await page.reload();
    await expect(page.getByText('17 kept in this browser')).toBeVisible();
    await expect(page.getByRole('article', { name: 'From before' })).toBeVisible();
  }
  // What was read is not written again, however many there are; what is changed is.
  const written = await countCalls(page, 'IDBObjectStore', 'put', 'buckets');
  await page.reload();
  await expect(page.getByRole('article', { name: 'From before' })).toBeVisible();
  await page.getByRole('article', { name: 'From before' }).hover();
  await page.waitForTimeout(700);
  expect(await written()).toBe(0);
  await page.getByRole('checkbox', { name: 'Select From before' }).check();
  await page.getByRole('button', { name: 'Delete' }).click();
  await expect.poll(written).toBeGreaterThan(0);
});

test('of thousands the list is there before they are read: it can be searched, and what changes something waits', async ({ page }) => {
  await openRuota(page);
  await expect(page.getByText('16 kept in this browser')).toBeVisible();
  await addAll(page, 'drill 8.5');
  await expect(page.getByText('17 kept in this browser')).toBeVisible();
  // A start takes up what was not stored yet before it shows anything: the demo data is there then.
  await page.reload();
  await expect(page.getByText('17 kept in this browser')).toBeVisible();
  // As an older version kept them: without what lists show.
  const keys = await page.evaluate(async (many) => {
    const db = await new Promise<IDBDatabase>((resolve) => {
      const request = indexedDB.open('ruota');
      request.onsuccess = () => resolve(request.result);
    });
    const change = db.transaction(['buckets', 'lists'], 'readwrite');
    const buckets = change.objectStore('buckets');
    const of = <T>(request: IDBRequest<T>) => new Promise<T>((resolve) => (request.onsuccess = () => resolve(request.result)));
    const stored = (await of(buckets.getAll())) as string[];
    const record = stored
      .flatMap((text) => Object.values(JSON.parse(text) as Record<string, { record: { source?: { spec?: { kind: string } } } }>))
      .map((entry) => entry.record)
      .find((r) => r.source?.spec?.kind === 'drill');
    if (!record) throw new Error('the drill is not stored');
    const added = new Map<string, Record<string, unknown>>();
    for (let i = 0; i < many; i++) {
      const id = `many${i}`;
      const key = String(([...id].reduce((hash, c) => (hash * 31 + c.charCodeAt(0)) | 0, 0) >>> 0) % 256);
      added.set(key, { ...added.get(key), [id]: { revision: 1, record: { ...record, id, name: `Drill of many ${i}` } } });
    }
    for (const [key, records] of added) {
      const held = (await of(buckets.get(key))) as string | undefined;
      buckets.put(JSON.stringify({ ...(JSON.parse(held ?? '{}') as object), ...records }), key);
    }
    change.objectStore('lists').clear();
    const count = await of(buckets.count());
    await new Promise((resolve) => (change.oncomplete = resolve));
    db.close();
    return count;
  }, 2500);
  const listsWritten = await countCalls(page, 'IDBObjectStore', 'put', 'lists');
  await page.reload();
  await expect(page.getByText('2,517 kept in this browser')).toBeVisible();
  await expect(page.getByText('being read')).toHaveCount(0);
  await expect.poll(listsWritten, { timeout: 60_000 }).toBe(keys);
  // From here on nothing is read until it is said.
  await page.addInitScript(() => {
    const whenIdle = window.requestIdleCallback.bind(window);
    const waiting: (() => void)[] = [];
    let isOpen = false;
    window.requestIdleCallback = (then, options) => {
      if (isOpen) return whenIdle(then, options);
      waiting.push(() => whenIdle(then, options));
      return 0;
    };
    Object.assign(window, { go: () => void ((isOpen = true), waiting.splice(0).forEach((then) => then())) });
  });
  await page.reload();
  await expect(page.getByText('2,517 kept in this browser, being read…')).toBeVisible();
  await search(page).fill('many 2417');
  const card = page.getByRole('article', { name: 'Drill of many 2417' });
  await expect(page.getByRole('article')).toHaveCount(1);
  await expect(card).toContainText('drill');
  await expect(page.getByRole('button', { name: 'What to do with Drill of many 2417' })).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Whole Shelf' })).toBeDisabled();
  await page.evaluate(() => (window as unknown as { go: () => void }).go());
  await expect(page.getByText('being read')).toHaveCount(0);
  await page.getByRole('button', { name: 'What to do with Drill of many 2417' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(page.getByText('Nothing matches')).toBeVisible();
  await expect(page.getByText(/^2,516 kept/)).toBeVisible();
  // What is written is listed so at the next start, at once; a record is there as soon as it is read.
  await expect.poll(listsWritten).toBeGreaterThan(0);
  await page.waitForTimeout(300);
  await page.reload();
  await expect(page.getByText('2,516 kept in this browser, being read…')).toBeVisible();
  await search(page).fill('many 2418');
  await page.getByRole('link', { name: 'Drill of many 2418', exact: true }).click();
  await expect(page.getByText('Opening…')).toBeVisible();
  await page.evaluate(() => (window as unknown as { go: () => void }).go());
  await expect(page.getByRole('region', { name: 'Ledger' })).toContainText('8.5');
});

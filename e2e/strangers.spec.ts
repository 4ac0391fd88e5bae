import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { test } from './fresh-profile.ts';
import { acceptAll, dropFile, entry, onBench, opened, openRuota, pick, placeOfLabel, wildFile } from './person.ts';

const ledger = (page: Page) => page.getByRole('region', { name: 'Ledger' });

type Entries = readonly (readonly [string, string | RegExp])[];

/** Opens a model, takes what is proposed by one press, and sees that it is ready with these entries. */
async function takenAtOnce(page: Page, file: string, entries: Entries): Promise<void> {
  await page.getByRole('link', { name: 'Shelf', exact: true }).click();
  await dropFile(page, file, readFileSync(wildFile(file)));
  await onBench(page, file);
  await acceptAll(page);
  for (const [name, text] of entries) await expect(entry(page, name)).toContainText(text, { timeout: 30_000 });
  await expect(ledger(page)).toContainText('marked and ready to build');
}

// Models that were drawn and written in another way than those of the demo, one of each kind that is mounted in another way.
const MODELS: readonly { file: string; roles: string; entries: Entries }[] = [
  {
    file: 'head-1.step',
    roles: '1 tool body · 1 cutting · 2 hardware',
    entries: [
      ['Kind', 'turning tool'],
      ['Mount', 'PSC 63'],
      ['Tip', 'RE 0.8'],
    ],
  },
  {
    file: 'indexable-2.stl',
    roles: '5 cutting',
    entries: [
      ['Kind', 'cutter'],
      ['Mount', 'bolted face 22'],
      ['Tip', 'RE 0.800'],
    ],
  },
  {
    file: 'block-11.step',
    roles: '2 hardware',
    entries: [
      ['Kind', 'station block'],
      ['Mount', 'VDI 30'],
      ['Seats', /cylindrical \d+/],
    ],
  },
];

test('models from elsewhere are full after one press, a pick corrects one, and what was mended in a file is said', async ({ page }) => {
  await openRuota(page, '/shelf', { warm: true });
  for (const { file, roles, entries } of MODELS) {
    await takenAtOnce(page, file, entries);
    await expect(await opened(page, 'Bodies')).toContainText(roles);
    if (file === 'block-11.step') await expect(page.getByText(/loose surfaces were sewn to \d+ bodies/)).toBeVisible();
    if (file !== 'indexable-2.stl') continue;
    // One of the five inserts' corners was taken; another one is picked instead.
    const near = await placeOfLabel(page, /^Tip$/);
    await (await opened(page, 'Tip')).getByRole('button', { name: 'Remove Tip' }).click();
    await (await opened(page, 'Tip')).getByRole('button', { name: 'Pick on the model' }).click();
    await pick(page, /^rounded edge, radius 0\.800/, { near, step: 5, behind: true });
    await expect(entry(page, 'Tip')).toContainText('picked · rounded edge');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect(entry(page, 'Tip')).toContainText('read');
  }
});

// The other kinds: what is sure is taken by one press, and each is ready or says what is left to do.
const MORE: readonly { file: string; entries: Entries }[] = [
  {
    file: 'boring-7.step',
    entries: [
      ['Kind', 'boring bar'],
      ['Mount', 'cylindrical 12.7'],
      ['Tip', 'RE 1.191'],
    ],
  },
  {
    file: 'grooving-5.step',
    entries: [
      ['Kind', 'turning tool'],
      ['Mount', 'square 16x16'],
      ['Tip', 'RE 0.200'],
    ],
  },
  {
    file: 'fine-cutter-8.stl',
    entries: [
      ['Kind', 'cutter'],
      ['Mount', 'cylindrical 8'],
      ['Cutting part', 'cut off, 1'],
    ],
  },
  {
    file: 'indexable-11.step',
    entries: [
      ['Bodies', '1 tool body · 4 cutting · 4 hardware'],
      ['Mount', 'bolted face 22'],
      ['Tip', 'RE 0.400'],
    ],
  },
  {
    file: 'holder-7.step',
    entries: [
      ['Mount', 'SK 40'],
      ['Seats', 'cylindrical 12'],
    ],
  },
  {
    file: 'collet-2.stl',
    entries: [
      ['Mount', 'cylindrical 40'],
      ['Seats', 'cylindrical 10'],
    ],
  },
];

test('all other kinds of models from elsewhere: an assembly of parts, splinters, loose faces, a thread mill as a mesh', async ({ page }) => {
  await openRuota(page, '/shelf', { warm: true });
  for (const { file, entries } of MORE) await takenAtOnce(page, file, entries);
});

test('a file whose own coordinate system lies elsewhere than its shank: both are offered, the difference is said, and a press decides', async ({ page }) => {
  const text = readFileSync(wildFile('solid-cutter-7.step'), 'utf8');
  const end = text.lastIndexOf('ENDSEC;');
  const named = `#990000=CARTESIAN_POINT('',(1.,2.,3.));\n#990001=DIRECTION('',(0.,0.,1.));\n#990002=DIRECTION('',(1.,0.,0.));\n#990003=AXIS2_PLACEMENT_3D('MCS',#990000,#990001,#990002);\n`;
  await openRuota(page, '/shelf', { warm: true });
  await dropFile(page, 'named.step', Buffer.from(`${text.slice(0, end)}${named}${text.slice(end)}`));
  await onBench(page, 'named.step');
  await expect(ledger(page)).toContainText(/MCS in the file is [\d.]+ mm from the mount that was found/);
  await acceptAll(page);
  // Two that contradict each other are not taken unseen.
  await expect(entry(page, 'Mount')).not.toContainText('read ·');
  await expect((await opened(page, 'Mount')).getByText('as MCS in the file has it')).toBeVisible();
  // Either is one press away, and can be taken back.
  await (await opened(page, 'Mount')).getByRole('button', { name: 'Accept cylindrical 12' }).last().click();
  await expect(entry(page, 'Mount')).toContainText('as MCS in the file has it');
  await page.keyboard.press('Control+z');
  await (await opened(page, 'Mount')).getByRole('button', { name: 'Accept cylindrical 12' }).first().click();
  await expect(entry(page, 'Mount')).toContainText('diameter 12.000');
  await expect(ledger(page)).toContainText('marked and ready to build');
});

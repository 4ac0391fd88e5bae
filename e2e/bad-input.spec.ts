import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { strToU8, zipSync } from 'fflate';
import { test } from './fresh-profile.ts';
import { chooseFile, demoFile, dropFile, entry, onBench, opened, openRuota } from './person.ts';

// Files that are damaged or are something else: each is refused in words, nothing is lost, and the next good file opens.

// One after the other, on one page.
test.describe.configure({ mode: 'default' });

let page: Page;
test.beforeAll(async ({ profile }) => {
  await profile.empty();
  page = await profile.open();
  await openRuota(page);
});

const good = readFileSync(demoFile('hub-bore-bar-16-inch.step'), 'utf8');
const cases: [string, Uint8Array, RegExp][] = [
  ['empty.step', new Uint8Array(0), /is empty/],
  ['truncated.step', strToU8(good.slice(0, good.length / 2)), /ends before the STEP data do/],
  ['random.step', Uint8Array.from({ length: 5000 }, (_, i) => (i * 7919 * (i + 3)) % 256), /is not a model that can be read|named as STEP/],
  ['huge-number.step', strToU8(good.replace(/CARTESIAN_POINT\('',\(([^,]+),/, "CARTESIAN_POINT('',(1.E400,")), /is not a number that a model can contain/],
  ['dangling.step', strToU8(good.replace(/#\d+ = ADVANCED_FACE[^;]*;/, '')), /which is not in the file/],
  ['picture.step', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]), /is not a model that can be read/],
  ['mesh.step', strToU8('solid x\nfacet normal 0 0 1\nendsolid x\n'), /holds an STL mesh/],
  ['not-a-package.zip', zipSync({ 'readme.txt': strToU8('hello') }), /holds nothing that Ruota opens: readme\.txt/],
  ['broken.zip', zipSync({ 'manifest.json': strToU8('{"format":"ruota-package"') }), /the manifest is damaged/],
  ['bomb.zip', zipSync({ 'manifest.json': new Uint8Array(700e6) }, { level: 9 }), /would unpack to more than/],
  [
    'no-solid.step',
    strToU8("ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('AUTOMOTIVE_DESIGN'));\nENDSEC;\nDATA;\n#1=CARTESIAN_POINT('',(0.,0.,0.));\nENDSEC;\nEND-ISO-10303-21;\n"),
    /has no solid body|could not read/,
  ],
];

for (const [name, content, message] of cases) {
  test(`${name} is refused in words`, async () => {
    await dropFile(page, name, content);
    const note = page.getByRole('alert').filter({ hasText: message });
    await expect(note).toBeVisible({ timeout: 60_000 });
    await expect(note).toContainText(name.slice(0, 8));
    await note.getByRole('button', { name: 'Dismiss' }).click();
    await expect(note).toBeHidden();
  });
}

test('a file whose name is markup stays text, and a good file opens after all of them', async () => {
  await dropFile(page, '<img src=x onerror=alert(1)>.step', strToU8(good));
  await onBench(page, '<img src=x onerror=alert(1)>.step');
  expect(await page.locator('img[src="x"]').count()).toBe(0);
  await expect(entry(page, 'Bodies')).toContainText('3');
});

test('a number that is none is said at its field and changes nothing', async () => {
  await (await opened(page, 'Mount')).getByRole('button', { name: 'Type it' }).click();
  await (await opened(page, 'Mount')).getByRole('button', { name: 'Edit mount' }).click();
  const field = (await opened(page, 'Mount')).getByLabel('X', { exact: true });
  for (const text of ['abc', '1e999', '25.4/0', '=2+2']) {
    await field.fill(text);
    await field.press('Enter');
    await expect(entry(page, 'Mount')).toContainText(/is not a length|Between/);
  }
  await field.press('Escape');
  await expect(field).toHaveValue('0.000');
  await field.fill('3/8 in');
  await field.press('Enter');
  await expect(field).toHaveValue('9.525');
});

test('opening can be stopped, and the next file opens', async () => {
  await page.getByRole('link', { name: 'Shelf' }).click();
  await chooseFile(page, demoFile('station-block-40.step'));
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByText(/^Stopped: Opening station-block-40/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Stop' })).toBeHidden();
  await chooseFile(page, demoFile('hub-face-holder-25.step'));
  await onBench(page, 'hub-face-holder-25.step');
});

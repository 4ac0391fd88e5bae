// Takes the pictures in docs/screenshots from the demo data: npm run screenshots (needs a build; starts its own server).
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { encode } from 'fast-png';
import { ensureBuilt, ensureChromium, ensureInstalled, root } from './ready.mjs';

ensureInstalled();
ensureChromium();
ensureBuilt();
const port = '4195';
const server = spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], { cwd: root, stdio: 'ignore', env: { ...process.env, PORT: port } });
const folder = join(root, 'docs', 'screenshots');
mkdirSync(folder, { recursive: true });
const args = [
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--ignore-gpu-blocklist',
];
// Of the picture that is traced, in pixels; and where the cutter begins and ends.
const SIZE = [1400, 560];
const ENDS = [110, 1290];

// The demo's seal groove cutter as a camera sees it: a dark silhouette, a little soft and noisy.
function paintedCutter() {
  const perMm = (ENDS[1] - ENDS[0]) / 59;
  const radius = (z) =>
    z < 0.8
      ? 5.2 + z
      : z < 3.2
        ? 6
        : z < 4.4
          ? 6 + (z - 3.2)
          : z < 10.6
            ? 8.7 - Math.max(0, 5.9 - z, z - 9.1)
            : z < 13
              ? 7.2
              : z < 19
                ? 4.5
                : z < 58.5
                  ? 5
                  : 5 - (z - 58.5);
  let seed = 7;
  const noise = () => (seed = (seed * 16807) % 2147483647) / 2147483647 - 0.5;
  const data = Uint8Array.from({ length: SIZE[0] * SIZE[1] }, (_, i) => {
    const z = 59 - ((i % SIZE[0]) + 0.5 - ENDS[0]) / perMm;
    const r = Math.abs(Math.floor(i / SIZE[0]) + 0.5 - SIZE[1] / 2) / perMm;
    const inside = z < 0 || z > 59 ? 0 : Math.min(1, Math.max(0, (radius(z) - r) * perMm + 0.5));
    return 232 - 170 * inside + 12 * noise();
  });
  return Buffer.from(encode({ width: SIZE[0], height: SIZE[1], data, channels: 1 }));
}

async function openByDialog(page) {
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByRole('button', { name: 'Open a file' }).first().click();
}

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args });
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' });
  const base = `http://localhost:${port}`;
  for (let i = 0; ; i++) {
    try {
      await page.goto(base);
      break;
    } catch (error) {
      if (i > 40) throw error;
      await new Promise((r) => setTimeout(r, 250));
    }
  }
  // `pointer`: what it points at belongs to the picture.
  const take = async (name, pointer = [5, 600]) => {
    await page.mouse.move(...pointer, { steps: 4 });
    await page.waitForTimeout(900);
    await page.screenshot({ path: join(folder, `${name}.png`) });
    console.log(name);
  };
  await page.getByText(/^all \d+ pass$/).waitFor();
  await page.getByRole('button', { name: 'Put this line away' }).click();
  await page.locator('.strip-behind').first().waitFor();
  // With the handle of a stick-out, and what two picks are to each other.
  await page.locator('.piece-line').filter({ hasText: 'Hub-bore bar 16' }).click();
  await page.getByRole('button', { name: 'Measure', exact: true }).click();
  for (const [x, y] of [
    [390, 256],
    [430, 280],
  ]) {
    await page.mouse.move(x, y, { steps: 4 });
    await page.waitForTimeout(600);
    await page.mouse.click(x, y);
  }
  await page.getByRole('row', { name: /^gap/ }).waitFor();
  await take('build');
  await page.getByRole('button', { name: 'Measure', exact: true }).click();
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.waitForTimeout(9000);
  await take('shelf');
  // What an entry of the Ledger has inside, where it is closed.
  const openEntry = async (title) => {
    const entry = page.getByRole('region', { name: title, exact: true });
    const line = entry.getByRole('button', { name: title, exact: true });
    if ((await line.getAttribute('aria-expanded')) === 'false') await line.click();
    return entry;
  };
  for (const [name, component] of [
    ['bench-turning-tool', 'Hub-face holder 25 L'],
    ['bench-profile', 'Collet chuck 63 / 32'],
    ['bench-station-block', 'Station block 40'],
  ]) {
    await page.getByRole('link', { name: 'Shelf' }).click();
    await page.getByRole('link', { name: component, exact: true }).click();
    await page.getByRole('region', { name: 'Ledger' }).waitFor();
    await page.waitForTimeout(1500);
    if (name !== 'bench-profile') await take(name);
    if (name === 'bench-turning-tool') {
      const plan = await openEntry('Plan outline');
      await plan.getByRole('button', { name: 'Make' }).click();
      await plan.getByText(/never inside/).waitFor({ timeout: 120_000 });
      await plan.evaluate((e) => e.scrollIntoView({ block: 'end' }));
      await take('bench-plan');
    }
    if (name === 'bench-profile') {
      // Its bore stays open to the work; a corner of the profile is chosen.
      const holder = await openEntry('Holder geometry');
      await holder.getByText('revolved', { exact: true }).click();
      await holder.getByRole('combobox', { name: 'Bores of holder geometry' }).click();
      await page.getByRole('option', { name: 'open to the work', exact: true }).click();
      await holder.getByRole('button', { name: 'Make' }).click();
      await page.getByRole('button', { name: 'Stop' }).waitFor();
      await page.getByRole('button', { name: 'Stop' }).waitFor({ state: 'hidden', timeout: 120_000 });
      await page.getByText(/^Simulation ·/).click();
      await page.getByRole('button', { name: 'Change the profile' }).click();
      await page.locator('.strip-corner').nth(3).focus();
      await holder.evaluate((e) => e.scrollIntoView({ block: 'start' }));
      await take('bench-profile');
      await page.getByRole('button', { name: 'Done' }).click();
      await page.getByText(/^Source ·/).click();
    }
  }
  // How far the light geometry of the block stands outside of it.
  const made = await openEntry('Holder geometry');
  await made.getByText('auto', { exact: true }).click();
  await made.getByRole('button', { name: 'Make' }).click();
  await made.getByText(/never inside/).waitFor({ timeout: 120_000 });
  await page.getByText('Growth', { exact: true }).click();
  await page.locator('.growth-scale').waitFor({ timeout: 120_000 });
  await page.evaluate(() => document.querySelector('[aria-label="Holder geometry"]')?.scrollIntoView({ block: 'start' }));
  await take('bench-growth');
  // And beside the vendor's model.
  await page.getByText('Side by side').click();
  // The facts of the boring bar, with its designation and the bore it can work in; and what picks make.
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByRole('link', { name: 'Hub-bore bar 16', exact: true }).click();
  await openEntry('Facts');
  const designation = page.getByRole('textbox', { name: 'Designation' });
  await designation.fill('A16M-SCLCR 06');
  await designation.press('Enter');
  await page.getByText('Minimum bore against depth').waitFor();
  await page.evaluate(() => document.querySelector('[aria-label="Facts"]')?.scrollIntoView({ block: 'start' }));
  await take('bench-facts');
  // Outlines: from a drawing, by numbers, from a picture.
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.locator('a.card-name[href="/outline/demo-seal-groove-outline"]').click();
  await page.locator('.sheet-ghost').waitFor();
  await openEntry('How it was read');
  await take('outline-drawing');
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByRole('link', { name: 'Slim holder 63 / 10', exact: true }).click();
  await page.locator('.segment').first().waitFor();
  await take('outline-stack');
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), openByDialog(page)]);
  await chooser.setFiles({ name: 'seal-groove-cutter.png', mimeType: 'image/png', buffer: paintedCutter() });
  await page.getByRole('button', { name: 'Mark two points' }).click();
  const picture = await page.locator('.sheet-stage image').boundingBox();
  for (const x of [ENDS[0], ENDS[1]]) await page.mouse.click(picture.x + (x / SIZE[0]) * picture.width, picture.y + picture.height / 2);
  await page.getByRole('textbox', { name: 'Distance of the two places' }).fill('59');
  await page.keyboard.press('Enter');
  await page.locator('.outline-facts').waitFor();
  await take('outline-picture');
  // Drawn by hand: dimensions on the sheet, and a rectangle that is about to be taken away.
  await page.getByRole('button', { name: 'New' }).click();
  await page.getByRole('menuitem', { name: 'Drawn by hand, turned' }).click();
  await page.getByRole('button', { name: 'Change the outline' }).click();
  const tools = page.getByRole('group', { name: 'Change the outline' });
  await tools.getByText(/ways to move/).waitFor();
  const say = async (corners, tool) => {
    for (const [k, name] of corners.entries()) await page.getByRole('button', { name, exact: true }).press(k === 0 ? 'Enter' : 'Shift+Enter');
    await tools.getByRole('button', { name: tool, exact: true }).click();
    await page.keyboard.press('Escape');
  };
  await say(['Corner at 60.000, 8.000'], 'Diameter');
  await say(['Corner at 0.000, 6.000'], 'Diameter');
  await say(['Corner at 60.000, 8.000', 'Corner at 45.000, 8.000'], 'Distance along');
  await say(['Corner at 60.000, 8.000', 'Corner at 0.000, 6.000'], 'Distance along');
  await say(['Corner at 60.000, 8.000'], 'Break it');
  await say(['Corner at 45.000, 6.000'], 'Round it');
  await page.getByText('Rectangle', { exact: true }).click();
  const from = await page.getByRole('button', { name: 'Corner at 45.000, 8.000', exact: true }).boundingBox();
  await page.mouse.click(from.x + 60, from.y + 7);
  await take('outline-by-hand', [from.x + 96, from.y + 42]);
  // A tool that was typed: on the Shelf while it is understood, and on the Bench.
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByRole('textbox', { name: 'Type a tool' }).fill('DCLNR 2525 M12');
  await page.getByRole('button', { name: 'Add it' }).click();
  await page.getByRole('link', { name: 'DCLNR2525M12', exact: true }).click();
  await page.locator('.stage canvas').waitFor();
  await openEntry('Data');
  await take('bench-data');
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByRole('link', { name: 'Tools of a table' }).click();
  const rows = [
    'Art;Durchmesser;Gesamtlänge;Radius;Notiz',
    'Bohrer;8,5;117;;Spannloch',
    'Reibahle;10;133;;',
    'Bohrer;acht;100;;',
    'Schaftfräser;12;83;1;',
    'Kugelfräser;6;57;;',
    'Senker;12,4;56;;',
  ];
  await page.getByRole('textbox', { name: 'Pasted cells' }).fill(rows.join('\n'));
  await page.getByRole('button', { name: 'Read them' }).click();
  await take('shelf-table');
  await page.getByRole('link', { name: 'Shelf', exact: true }).click();
  for (const words of [
    'drill 8.5 x 110',
    'reamer 10H7',
    'A16M-SCLCR 09',
    'M8 tap',
    'collet 32 d10',
    'face mill 50',
    '16ER AG60',
    'grooving holder 2525 width 3',
  ]) {
    await page.getByRole('textbox', { name: 'Type a tool' }).fill(words);
    await page.getByRole('textbox', { name: 'Type a tool' }).press('Enter');
  }
  await page.waitForTimeout(12_000);
  await page.getByRole('textbox', { name: 'Type a tool' }).fill('end mill 12 r1 lu 40');
  await page.locator('.typed-picture svg').waitFor();
  await page.waitForTimeout(2500);
  await take('shelf');
  await page.getByRole('textbox', { name: 'Type a tool' }).fill('A16R-SCLCR 09');
  await page.locator('.typed-picture svg').waitFor();
  await page.getByRole('textbox', { name: 'Type a tool' }).press('Enter');
  // What stands where.
  await page.getByRole('link', { name: 'Carrier' }).click();
  await page.getByRole('cell', { name: '40.597' }).waitFor();
  await page.waitForTimeout(2500);
  await take('carrier');
  await page.getByRole('link', { name: 'Trial' }).click();
  await page.getByText('One thing is wrong').waitFor();
  await page.locator('.event-list button').first().click();
  await page.waitForTimeout(2500);
  await take('trial');
  // A head that stands at a wrong angle for the part.
  await page.getByRole('combobox', { name: 'Other trial' }).click();
  await page.getByRole('option', { name: 'Hub shell, waist' }).click();
  await page.getByRole('radiogroup', { name: 'Shown below' }).getByText('reach').click();
  await page.getByRole('button', { name: 'Look at all angles of the head' }).click();
  await page.getByText('Least stays at').waitFor();
  await page.getByText('Least stays at').scrollIntoViewIfNeeded();
  await page.waitForTimeout(1500);
  await take('trial-angles');
  await page.getByRole('link', { name: 'Handover' }).click();
  await page.getByRole('button', { name: 'Write the package' }).waitFor();
  await page.getByRole('combobox', { name: 'What is handed over' }).click();
  await page.getByRole('option', { name: 'Hub shell, both sides' }).click();
  await page.getByRole('cell', { name: '24', exact: true }).waitFor();
  await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Write the package' }).click()]);
  await page.getByText(/ is written: /).waitFor();
  await page.waitForTimeout(800);
  await take('handover');
  await page.getByRole('button', { name: 'Switch to dark' }).click();
  await page.getByRole('link', { name: 'Build' }).click();
  // Another bar, tried: before and after side by side.
  await page.locator('.piece-line', { hasText: 'Hub-bore bar 16' }).click();
  await page.getByText('chain', { exact: true }).click();
  const instead = page.getByRole('group', { name: 'In the place of Hub-bore bar 16' });
  await instead.getByRole('button', { name: /^A16R-SCLCR09 .*→/ }).click();
  await page.getByText(/^all \d+ pass$/).waitFor();
  await page.waitForTimeout(1500);
  await take('build-dark');
} finally {
  await browser.close();
  server.kill();
}

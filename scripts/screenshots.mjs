// Takes the pictures in docs/screenshots from the demo data: npm run screenshots (needs a build; starts its own server).
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
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
  const take = async (name) => {
    await page.mouse.move(5, 400);
    await page.waitForTimeout(900);
    await page.screenshot({ path: join(folder, `${name}.png`) });
    console.log(name);
  };
  await page.getByText(/^all \d+ pass$/).waitFor();
  await page.getByRole('button', { name: 'Put this line away' }).click();
  await page.locator('.strip-behind').first().waitFor();
  await take('build');
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
    ['bench-collet-chuck', 'Collet chuck 63 / 32'],
    ['bench-station-block', 'Station block 40'],
  ]) {
    await page.getByRole('link', { name: 'Shelf' }).click();
    await page.getByRole('link', { name: component, exact: true }).click();
    await page.getByRole('region', { name: 'Ledger' }).waitFor();
    await page.waitForTimeout(1500);
    await take(name);
    if (name === 'bench-turning-tool') {
      const plan = await openEntry('Plan outline');
      await plan.getByRole('button', { name: 'Make' }).click();
      await plan.getByText(/never inside/).waitFor({ timeout: 120_000 });
      await plan.evaluate((e) => e.scrollIntoView({ block: 'end' }));
      await take('bench-plan');
    }
    if (name === 'bench-collet-chuck') {
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
  await take('bench-side-by-side');
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
  await page.getByRole('link', { name: 'Handover' }).click();
  await page.getByRole('button', { name: 'Write the package' }).waitFor();
  await take('handover');
  await page.getByRole('button', { name: 'Switch to dark' }).click();
  await page.getByRole('link', { name: 'Build' }).click();
  await page.getByText(/^all \d+ pass$/).waitFor();
  await take('build-dark');
} finally {
  await browser.close();
  server.kill();
}

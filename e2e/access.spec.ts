import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { test } from './fresh-profile.ts';
import { openRuota } from './person.ts';

const VIEWS = [
  { name: 'Build', path: '/build', ready: (page: Page) => page.getByText(/^all \d+ pass$/) },
  { name: 'Shelf', path: '/shelf', ready: (page: Page) => page.getByRole('link', { name: 'Station block 40', exact: true }) },
  { name: 'Bench', path: '/bench', ready: (page: Page) => page.getByRole('region', { name: 'Ledger' }) },
  { name: 'Outline', path: '/outline', ready: (page: Page) => page.getByRole('group', { name: 'The outline on its sheet' }) },
  { name: 'Carrier', path: '/carrier', ready: (page: Page) => page.getByRole('cell', { name: '45.607' }) },
  { name: 'Trial', path: '/trial', ready: (page: Page) => page.getByText('One thing is wrong') },
  { name: 'Handover', path: '/handover', ready: (page: Page) => page.getByRole('button', { name: 'Write the package' }) },
] as const;

test('nothing on any view keeps someone out, light or dark', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'light' });
  await openRuota(page, '/build');
  await VIEWS[0].ready(page).waitFor();
  for (const { name, ready } of VIEWS) {
    await page.getByRole('link', { name, exact: true }).click();
    if (name === 'Outline') {
      await page.getByRole('link', { name: 'Shelf' }).click();
      await page.getByRole('link', { name: 'Slim holder 63 / 10', exact: true }).click();
    }
    if (name === 'Bench') {
      // A component with everything on it, its entries open.
      await page.getByRole('link', { name: 'Shelf' }).click();
      await page.getByRole('link', { name: 'Hub-bore bar 16', exact: true }).click();
    }
    await ready(page).waitFor();
    await expect(page.getByRole('heading', { level: 1 })).toHaveCount(1);
    await page.waitForTimeout(500);
    const look = async (what: string) => {
      // A tooltip of what was pressed last is no part of the view.
      await page.mouse.move(1, 1);
      await expect(page.getByRole('tooltip')).toHaveCount(0);
      // Without a page beside it, in which what several frames say would be put together: there are none.
      const found = async (axe: AxeBuilder, scheme: string) =>
        (await axe.setLegacyMode(true).analyze()).violations.map(
          (v) => `${what}, ${scheme}: ${v.id} (${v.impact}): ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`,
        );
      expect(await found(new AxeBuilder({ page }), 'light')).toEqual([]);
      // What the scheme changes is colours.
      await page.emulateMedia({ colorScheme: 'dark' });
      await expect(page.locator('html')).toHaveAttribute('data-mantine-color-scheme', 'dark');
      expect(await found(new AxeBuilder({ page }).withRules(['color-contrast', 'link-in-text-block']), 'dark')).toEqual([]);
      await page.emulateMedia({ colorScheme: 'light' });
      await expect(page.locator('html')).toHaveAttribute('data-mantine-color-scheme', 'light');
    };
    await look(name);
    if (name === 'Shelf') {
      await page.getByRole('textbox', { name: 'Type a tool' }).fill('drill 8.5 wobbly');
      await page.getByText('nothing is known by this word').waitFor();
      await look('Shelf, a tool typed');
      await page.getByRole('textbox', { name: 'Type a tool' }).press('Escape');
      await page.locator('.search-bar').getByText('Table', { exact: true }).click();
      await page.getByRole('checkbox', { name: 'Select Hub-bore bar 16', exact: true }).check();
      await look('Shelf, as a table');
      await page.getByRole('button', { name: 'Bring over to a set' }).click();
      await page.getByRole('dialog').waitFor();
      await page.waitForTimeout(400);
      await look('Shelf, bringing over');
      await page.getByRole('button', { name: 'Leave it' }).click();
      await page.getByRole('button', { name: 'Select none' }).click();
      await page.locator('.search-bar').getByText('Pictures', { exact: true }).click();
      await page.getByRole('link', { name: 'Tools of a table' }).click();
      await page.getByRole('textbox', { name: 'Pasted cells' }).fill('kind,D\ndrill,8\ndrill,eight\n');
      await look('Table, pasted');
      await page.getByRole('button', { name: 'Read them' }).click();
      await page.getByText('1 of 2 rows are tools').waitFor();
      await look('Table, read');
    }
    if (name === 'Carrier') {
      await page.getByText('machine and work').click();
      for (const summary of await page.locator('.station-panel summary').all()) await summary.click();
      await look('Carrier, its machine');
    }
    if (name !== 'Bench' && name !== 'Outline') continue;
    const closed = page.locator('.ledger-line h4 button[aria-expanded=false]');
    while ((await closed.count()) > 0) await closed.first().click();
    await page.waitForTimeout(500);
    await look(`${name}, all open`);
  }
});

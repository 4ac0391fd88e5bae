// What a person looks at and presses in the area Carrier.
import { expect, type Locator, type Page } from '@playwright/test';

export const table = (page: Page) => page.getByRole('region', { name: 'Station table' });
export const cells = async (page: Page, row: RegExp) =>
  (await table(page).getByRole('row').filter({ hasText: row }).first().getByRole('cell').allInnerTexts()).map((t) => t.trim());
export const dial = (page: Page, station: RegExp) => page.getByRole('group', { name: /^Stations of/ }).getByRole('button', { name: station });
export const panel = (page: Page, name: RegExp) => page.getByRole('region', { name });
export const takeOption = async (page: Page, box: string, option: string | RegExp, timeout?: number) => {
  await page.getByRole('combobox', { name: box }).click({ timeout });
  await page.getByRole('option', { name: option, exact: typeof option === 'string' }).click({ timeout });
};

/** Opens what is folded under a line, which may still be moving as what stands above it goes. */
export const unfold = (within: Locator, line: string | RegExp) =>
  expect(async () => {
    const folded = within.locator('details').filter({ has: within.page().getByText(line) });
    if ((await folded.getAttribute('open')) === null) await folded.locator('summary').click();
    await expect(folded).toHaveAttribute('open', { timeout: 1000 });
  }).toPass({ timeout: 30_000 });

/** A new set-up on another machine, whose carrier takes what the demo's blocks have. */
export async function newOn(page: Page, machine: RegExp, carrier: string) {
  const before = page.url();
  await page.getByRole('button', { name: 'New set-up' }).click();
  await expect(page).not.toHaveURL(before);
  // The set-up that stood there before may still be shown, and be what is pressed.
  await expect(async () => {
    await page.getByText('machine and work').click();
    await takeOption(page, 'machine', machine, 3000);
  }).toPass();
  const block = page.getByRole('group', { name: carrier, exact: true });
  await unfold(block, 'Stations and travel');
  await block.getByRole('combobox', { name: 'takes' }).click();
  await page.getByRole('option', { name: 'VDI', exact: true }).click();
  await block.getByRole('combobox', { name: 'size' }).click();
  await page.getByRole('option', { name: '40', exact: true }).click();
  return block;
}

import { expect } from '@playwright/test';
import { test } from './fresh-profile.ts';
import { chooseFile, countCalls, demoFile, entry, frames, onBench, opened, openRuota, pointAt } from './person.ts';

test('the demo assembly is there at the first start, with its gauge length', async ({ page }) => {
  await openRuota(page, '/');
  await expect(page).toHaveURL(/\/build/);
  await expect(page.getByTestId('gauge-length')).toHaveText('148.000');
  await expect(page.locator('.check-sum')).toHaveText(/^all \d+ pass$/, { timeout: 30_000 });
});

test('what is under the pointer is named with its numbers, and Tab walks behind it', async ({ page }) => {
  await openRuota(page);
  await page.getByRole('link', { name: 'Sleeve 32 to 16', exact: true }).click();
  await onBench(page, 'sleeve-32-16.step');
  const first = await pointAt(page, /^cylinder, diameter 32\.000, length 6\d\.\d+, axis/);
  await page.getByRole('application', { name: /^3D stage/ }).focus();
  await page.keyboard.press('Tab');
  await expect(page.locator('.stage-tooltip')).toContainText('2 of');
  expect(await page.locator('.stage-tooltip > div').first().innerText()).not.toBe(first);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('group', { name: 'Picked' }).locator('.picked-row')).toHaveCount(1);
});

test('the pose is a list of steps that can be edited, moved, removed and undone; the source stays', async ({ page }) => {
  await openRuota(page);
  await chooseFile(page, demoFile('hub-bore-bar-16-inch.step'));
  await onBench(page, 'hub-bore-bar-16-inch.step');
  const pose = await opened(page, 'Pose');
  await pose.getByRole('button', { name: 'Turn', exact: true }).click();
  await expect(pose).toContainText('1 step');
  await pose.getByLabel('Move along X').fill('1 in');
  await pose.getByLabel('Move along X').press('Enter');
  await pose.getByRole('button', { name: 'Move', exact: true }).click();
  await expect(pose).toContainText('2 steps');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(pose).toContainText('1 step');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(pose).toContainText('2 steps');
  await page.reload();
  await onBench(page, 'hub-bore-bar-16-inch.step');
  await expect(pose).toContainText('2 steps');
});

test('inches are shown where they are wanted', async ({ page }) => {
  await openRuota(page, '/');
  await expect(page.getByTestId('gauge-length')).toHaveText('148.000');
  await page.getByRole('button', { name: /^Shown unit/ }).click();
  await page.getByText('inch', { exact: true }).click();
  await expect(page.getByTestId('gauge-length')).toHaveText('5.8268');
});

test('two tabs that change the same component lose nothing', async ({ context }) => {
  const [one, two] = [await context.newPage(), await context.newPage()];
  for (const tab of [one, two]) {
    await openRuota(tab);
    await tab.getByRole('link', { name: 'Sleeve 32 to 16', exact: true }).click();
    await onBench(tab, 'sleeve-32-16.step');
  }
  await (await opened(one, 'Mount')).getByRole('button', { name: 'Remove' }).click();
  // The other tab sees it by itself.
  await expect(entry(two, 'Mount')).toContainText('the connection towards the machine');
  await (await opened(two, 'Seats')).getByRole('button', { name: 'Type one' }).click();
  await expect(entry(one, 'Seats')).toContainText('2');
});

test('the keyboard reaches the areas, the work and the dark scheme', async ({ page }) => {
  await openRuota(page, '/');
  await page.keyboard.press('Tab');
  await expect(page.getByText('Skip to the work')).toBeFocused();
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'Shelf' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/shelf/);
  await page.getByRole('button', { name: 'Switch to dark' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.locator('html')).toHaveAttribute('data-mantine-color-scheme', 'dark');
});

test('what draws stages goes from area to area with its shaders; what lies under the pointer is named in a window of another size too', async ({ page }) => {
  const shaders = await countCalls(page, 'WebGL2RenderingContext', 'linkProgram');
  await openRuota(page);
  await expect(page.locator('main img').nth(5)).toBeVisible({ timeout: 60_000 });
  await expect(page.locator('.picture-wait')).toHaveCount(0, { timeout: 60_000 });
  // All pictures of the Shelf take two, of surfaces and of edges.
  expect(await shaders()).toBe(2);
  const toBench = async () => {
    await page.getByRole('link', { name: 'Shelf' }).click();
    await page.getByRole('link', { name: 'Sleeve 32 to 16', exact: true }).click();
    await onBench(page, 'sleeve-32-16.step');
  };
  const toBuild = async () => {
    await page.getByRole('link', { name: 'Build' }).click();
    await expect(page.getByTestId('gauge-length')).toBeVisible();
    await expect(page.locator('.stage canvas')).toBeVisible();
  };
  for (const go of [toBench, toBuild, toBench]) {
    await go();
    await pointAt(page, /./);
  }
  const before = await shaders();
  for (const go of [toBuild, toBench]) {
    await go();
    await pointAt(page, /./);
  }
  expect(await shaders()).toBe(before);
  // About its middle, where the view stays when the window gets another size.
  const named = async () => {
    const texts: string[] = [];
    for (const [x, y] of [-120, -40, 40, 120].flatMap((x) => [-60, 0, 60].map((y) => [x, y]))) {
      const box = await page.getByRole('application', { name: /^3D stage/ }).boundingBox();
      if (!box) throw new Error('there is no stage');
      await page.mouse.move(box.x + box.width / 2 + x, box.y + box.height / 2 + y);
      await frames(page);
      texts.push(await page.evaluate(() => document.querySelector('.stage-tooltip')?.firstElementChild?.textContent ?? ''));
    }
    return texts;
  };
  const first = await named();
  expect(new Set(first).size).toBeGreaterThan(3);
  await page.setViewportSize({ width: 1500, height: 700 });
  await expect.poll(named).toEqual(first);
});

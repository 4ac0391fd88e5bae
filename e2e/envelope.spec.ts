import { readFileSync } from 'node:fs';
import { expect, type Locator, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { test } from './fresh-profile.ts';
import { choose, countCalls, entry, opened, openRead, pick, pixelsOfHue, type } from './person.ts';

const shownTriangles = async (page: Page) =>
  Number((await entry(page, 'Holder geometry').locator('.ledger-value').innerText()).replace(/ tri$/, '').replaceAll(',', ''));

// Presses Make and waits until no more is bettered.
async function makeAll(page: Page, made: Locator): Promise<void> {
  const button = made.getByRole('button', { name: 'Make' });
  await button.click();
  // It may have been made ahead, and be over at once: the button tells, not the panel of the job.
  await expect(button).not.toHaveAttribute('data-loading', { timeout: 90_000 });
  await expect(page.getByRole('button', { name: 'Stop' })).toHaveCount(0, { timeout: 90_000 });
}

test('a block is made light body by body with its reasons, one body is overridden, and the package has what the Bench shows', async ({ page }) => {
  await openRead(page, 'block-6.step');
  const made = await opened(page, 'Holder geometry');
  // A person's own colour goes into the package.
  await pick(page, /^plane, normal/, { near: [0.5, 0.5] });
  const panel = page.getByRole('group', { name: 'Picked' });
  await panel.getByRole('button', { name: 'Colour this face' }).click();
  await page.locator('.mantine-ColorPicker-swatch').nth(5).click();
  await makeAll(page, made);
  await expect(made).toContainText('never inside', { timeout: 90_000 });
  await expect(made.locator('.ledger-sub').first()).toContainText(
    /wrap: [\d,]+ triangles, growth up to 0\.0\d+.*exact takes (more than )?[\d,]+.*proven at [\d,]+ points/,
  );
  const light = await shownTriangles(page);
  // Its screws lie in it and have nothing of their own, until a person wants one.
  const hidden = made.locator('.sub-name').filter({ hasText: ': lies in it' });
  const inIt = await hidden.count();
  expect(inIt).toBeGreaterThan(0);
  const screw = (await hidden.first().innerText()).replace(': lies in it', '');
  await choose(page, `How ${screw} is made`, 'exact');
  await makeAll(page, made);
  await expect(made.locator('.ledger-sub').filter({ hasText: screw }).filter({ hasText: 'exact:' })).toBeVisible({ timeout: 90_000 });
  await expect(hidden).toHaveCount(inIt - 1);
  expect(await shownTriangles(page)).toBeGreaterThan(light);
  const name = await made.locator('.ledger-sub .sub-name').first().innerText();
  await choose(page, `How ${name} is made`, 'exact');
  await makeAll(page, made);
  await expect(made.locator('.ledger-sub').first()).toContainText('exact:', { timeout: 90_000 });
  const exact = await shownTriangles(page);
  expect(exact).toBeGreaterThan(light);
  // The picture of growth, with its scale.
  await page.getByText('Growth', { exact: true }).click();
  await expect(page.locator('.growth-scale')).toContainText('0.000', { timeout: 60_000 });
  await expect.poll(() => pixelsOfHue(page, '#8cc4b4')).toBeGreaterThan(30);
  await page.getByText(/^Source ·/).click();
  await page.getByRole('button', { name: 'Start an assembly' }).click();
  await page.getByRole('button', { name: 'Hand over' }).click();
  const [download] = await Promise.all([page.waitForEvent('download', { timeout: 120_000 }), page.getByRole('button', { name: 'Write the package' }).click()]);
  const files = unzipSync(new Uint8Array(readFileSync(await download.path())));
  const manifest = JSON.parse(new TextDecoder().decode(files['manifest.json'])) as {
    pieces: { parts: { target: string; triangles: number; growth: { min: number; max: number }; closed: boolean; files: { glb: string } }[] }[];
  };
  const [part] = manifest.pieces[0].parts;
  expect([part.triangles, part.closed]).toEqual([exact, true]);
  expect(part.growth.min).toBeGreaterThanOrEqual(-1e-6);
  expect(part.growth.max).toBeLessThanOrEqual(0.05);
  const glb = files[part.files.glb];
  const json = JSON.parse(new TextDecoder().decode(glb.subarray(20, 20 + new DataView(glb.buffer, glb.byteOffset).getUint32(12, true)))) as {
    materials: { pbrMetallicRoughness: { baseColorFactor: number[] } }[];
  };
  // #3a6ea5, blue, in linear light.
  const blue = json.materials.map((m) =>
    m.pbrMetallicRoughness.baseColorFactor
      .slice(0, 3)
      .map((v) => v.toFixed(2))
      .join(),
  );
  expect(blue).toContain('0.04,0.16,0.38');
});

test('a tolerance that cannot be used is refused where it is typed, and a stopped job changes nothing', async ({ page }) => {
  await openRead(page, 'holder-4.step');
  const made = await opened(page, 'Holder geometry');
  await type(page, 'Tolerance of holder geometry', '0', made);
  await expect(made).toContainText('Between 0.001 and 5.000');
  // What takes some seconds: an envelope would be there before anybody could stop it.
  await made.getByText('wrap', { exact: true }).click();
  await type(page, 'Tolerance of holder geometry', '0.011', made);
  await made.getByRole('button', { name: 'Make' }).click();
  await page.getByRole('button', { name: 'Stop' }).click({ timeout: 20_000 });
  await expect(made).toContainText('not made yet');
  await made.getByText('revolved', { exact: true }).click();
  await made.getByRole('button', { name: 'Make' }).click();
  await expect(made).toContainText('never inside', { timeout: 90_000 });
});

test('the first proven result is seen while the rest is made; stopped, it is kept as it is', async ({ page }) => {
  await openRead(page, 'block-6.step');
  const made = await opened(page, 'Holder geometry');
  // A chord so fine that bettering takes some seconds more.
  await type(page, 'Tolerance of holder geometry', '0.003', made);
  const pressed = Date.now();
  await made.getByRole('button', { name: 'Make' }).click();
  // The finger is on Stop when the first result comes: no time goes by until it is pressed.
  await page.getByRole('button', { name: 'Stop' }).focus();
  await page.waitForFunction(() => document.body.innerText.includes('so far: growth'), undefined, { timeout: 150_000 });
  test.info().annotations.push({ type: 'first result', description: `${Date.now() - pressed} ms` });
  await page.keyboard.press('Enter');
  await expect(page.getByText(/What was proven by then is kept/)).toBeVisible();
  await expect(made).not.toContainText('so far');
  await expect(made).toContainText(/closed · never inside/);
  const kept = await shownTriangles(page);
  await expect(page.getByText(`Simulation · ${kept.toLocaleString('en')} tri`)).toBeVisible();
  // It is a step like any other.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(made).toContainText('not made yet');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect.poll(() => shownTriangles(page)).toBe(kept);
});

test('a tolerance is dragged and seen at once, a number of triangles finds its tolerance, and both stand beside the source', async ({ page }) => {
  const shadersCompiled = await countCalls(page, 'WebGL2RenderingContext', 'linkProgram');
  await openRead(page, 'adapter-6.step');
  const made = await opened(page, 'Holder geometry');
  await made.getByText('revolved', { exact: true }).click();
  await made.getByRole('button', { name: 'Make' }).click();
  await expect(made).toContainText('never inside', { timeout: 90_000 });
  const before = await shownTriangles(page);
  const slider = made.getByRole('slider', { name: 'Tolerance of holder geometry, dragged' });
  await slider.scrollIntoViewIfNeeded();
  const thumb = await slider.boundingBox();
  if (!thumb) throw new Error('no slider');
  const [x, y] = [thumb.x + thumb.width / 2, thumb.y + thumb.height / 2];
  await page.mouse.move(x, y);
  const shaders = await shadersCompiled();
  await page.mouse.down();
  await page.mouse.move(x + 45, y, { steps: 4 });
  await expect(made).toContainText('trying');
  // Numbers and picture follow while the button is down, and nothing is kept yet.
  await expect.poll(() => shownTriangles(page), { timeout: 60_000 }).toBeLessThan(before);
  await expect(made).not.toContainText('trying', { timeout: 60_000 });
  const seen = await shownTriangles(page);
  await expect(page.getByText(`Simulation · ${seen.toLocaleString('en')} tri`)).toBeVisible();
  await expect(page.getByRole('radio', { name: /^Simulation/ })).toBeChecked();
  // Another shape of the same look is drawn with the shaders that are there.
  expect(shaders).toBeGreaterThan(0);
  expect(await shadersCompiled()).toBe(shaders);
  await page.mouse.up();
  await expect(page.getByRole('radio', { name: /^Source/ })).toBeChecked({ timeout: 60_000 });
  await expect(made).not.toContainText('trying');
  expect(await shownTriangles(page)).toBe(seen);
  await page.keyboard.press('Control+z');
  await expect.poll(() => shownTriangles(page)).toBe(before);
  await page.keyboard.press('Control+y');
  await expect.poll(() => shownTriangles(page)).toBe(seen);
  const budget = made.getByLabel('Most triangles of holder geometry');
  await budget.fill(String(Math.round(seen * 0.85)));
  await made.getByRole('button', { name: 'Find the tolerance' }).click();
  await expect.poll(() => shownTriangles(page), { timeout: 110_000 }).toBeLessThanOrEqual(Math.round(seen * 0.85));
  await expect(made).toContainText('never inside');
  await page.getByText('Side by side').click();
  await expect(page.locator('.half-caption.right')).toHaveText('simulation, by its growth', { timeout: 60_000 });
  // The tool at the left, its growth at the right.
  await expect.poll(() => pixelsOfHue(page, '#8cc4b4')).toBeGreaterThan(30);
  await page.getByText('Overlaid').click();
  await expect(page.locator('.half-caption.right')).toHaveCount(0);
});

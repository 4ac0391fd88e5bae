import { readFileSync } from 'node:fs';
import { expect, type Locator, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { test } from './fresh-profile.ts';
import { choose, dropFile, openRuota, type } from './person.ts';

const side = (page: Page) => page.getByRole('region', { name: 'Trial' });
const show = (page: Page, tab: string) => side(page).getByRole('radiogroup', { name: 'Shown below' }).getByText(tab).click();
const known = { timeout: 60_000 };

test('a program is run against the set-up: its mistake is found, looked at, mended, and all of it kept', async ({ page }) => {
  await openRuota(page, '/trial');
  await expect(side(page).getByText('One thing is wrong')).toBeVisible(known);
  const event = side(page).getByRole('button', { name: /touches line 39/ });
  await expect(side(page).getByRole('link', { name: 'Change its pieces or stick-out in Build' })).toHaveAttribute('href', /\/build\/.+/);
  await expect(event).toContainText(/Hub-bore bar 16.* goes 0\.300 mm into the work/);
  await event.click();
  const time = page.getByRole('slider', { name: 'Time of the run, seconds' });
  const at = Number(await time.inputValue());
  expect(at).toBeGreaterThan(40);
  // What is in the way is drawn in the section: the bar, in the bore.
  const drawn = () =>
    page.locator('.trial-bodies').evaluate((c: HTMLCanvasElement) => {
      const { data } = c.getContext('2d')?.getImageData(0, 0, c.width, c.height) ?? { data: [] };
      return Array.from(data).filter((v, i) => i % 4 === 3 && v > 128).length;
    });
  await expect.poll(drawn).toBeGreaterThan(5000);
  // The line that runs stands out in the program.
  await show(page, 'program');
  await expect(side(page).getByRole('button', { name: /A MISTAKE/ })).toHaveAttribute('aria-current', 'step');
  // Block by block, both ways.
  await page.getByRole('button', { name: 'One block back' }).click();
  await expect.poll(async () => Number(await time.inputValue())).toBeLessThan(at);
  await page.getByRole('button', { name: 'One block on' }).click();
  await page.getByRole('button', { name: 'One block on' }).click();
  await expect.poll(async () => Number(await time.inputValue())).toBeGreaterThan(at);
  await side(page).getByRole('button', { name: /T0101/ }).click();
  await expect.poll(async () => Number(await time.inputValue())).toBeLessThan(1);
  await expect(page.getByRole('img', { name: 'Half section of the work' })).toContainText('Hub-turning holder 25 R');
  // How hard the edges work, over time: a press in it goes there, and what is cut there is said.
  await page.getByText('cutting over time').click();
  const depth = page.getByRole('figure', { name: 'depth of cut' });
  const plot = depth.locator('.recharts-wrapper');
  await plot.hover({ position: { x: 104, y: 20 } });
  await plot.click({ position: { x: 104, y: 20 } });
  await expect(depth).toContainText(/^depth of cut1\.700/);
  await expect(page.getByRole('figure', { name: 'cutting speed' })).toContainText(/\d+ m\/min at \d+ 1\/min/);
  await expect(page.getByRole('region', { name: 'Cutting over time' })).toContainText('Hub-turning holder 25 R, line');
  await expect.poll(async () => Number(await time.inputValue())).toBeGreaterThan(5);
  await page.getByText('half section', { exact: true }).click();
  // What each edge can cut of the part, and what it is stopped by.
  await show(page, 'reach');
  const reach = side(page).getByRole('region', { name: 'Reach' });
  await expect(reach).toContainText(/Together they leave 0\.\d+ mm² of the section/, known);
  await reach.getByRole('button', { name: /^Hub-bore bar 16/ }).click();
  await expect(reach.getByText(/something of it is in the way: Hub-bore bar 16/).first()).toBeVisible();
  // What the bar asks for of the bore is drawn in it.
  await expect(reach).toContainText(/gets into the bore to Z -4\d\.\d+; all else of it has 0\.1\d\d of room/);
  await expect(page.locator('.trial-bar')).toBeVisible();
  // Drawn on the part: lines, which have no height where they are level.
  await expect(page.locator('.trial-blocked[data-why="nose radius"]')).not.toHaveCount(0);
  await show(page, 'program');
  // Mended where it stands, and run anew by itself.
  await side(page).getByRole('button', { name: 'Change it here' }).click();
  const text = side(page).getByRole('textbox', { name: 'Text of the program' });
  await text.fill((await text.inputValue()).replace('X10. Z-11.', 'X20. Z-11.'));
  await text.press('Control+Enter');
  await expect(side(page).getByText('Nothing touches')).toBeVisible(known);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(side(page).getByText('One thing is wrong')).toBeVisible(known);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(side(page).getByText('Nothing touches')).toBeVisible(known);
  await page.reload();
  await expect(side(page).getByText('Nothing touches')).toBeVisible(known);
});

test('a set-up is handed over with its programs as one package, and comes back from it', async ({ page }) => {
  await openRuota(page, '/trial');
  await page.getByRole('button', { name: 'More of this trial' }).click();
  await page.getByRole('menuitem', { name: 'Hand over its set-up, with its programs' }).click();
  await expect(page.getByRole('row', { name: /^4 Hub-bore bar 16 4 24 counter/ })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('checkbox', { name: 'Hub shell, second side' }).uncheck();
  const [saved] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Write the package' }).click()]);
  await expect(page.getByRole('status').filter({ hasText: '2 assemblies, 1 trial' })).toBeVisible();
  const bytes = readFileSync(await saved.path());
  const inside = unzipSync(new Uint8Array(bytes));
  expect(Object.keys(inside).filter((path) => /^(assemblies\/\d.*-cutting\.glb|programs\/)/.test(path)).length).toBeGreaterThan(4);
  const [table] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Offset table (CSV)' }).click()]);
  const rows = readFileSync(await table.path(), 'utf8').split('\r\n');
  expect(rows[0]).toBe('carrier,station,assembly,edge,tool,offset,spindle,tipOrientation,sense,X,Z,Y,noseRadius');
  expect(rows[4]).toBe('upper turret,4,"Hub boring, both spindles",Hub-bore bar 16,4,24,counter,2,M3,-82,-160,0,0.4');
  // The set-up goes, and its trial has none any more; both come back as they were.
  await page.getByRole('link', { name: 'Carrier' }).click();
  await page.getByRole('button', { name: 'More of this set-up' }).click();
  await page.getByRole('menuitem', { name: 'Delete this set-up' }).click();
  await page.getByRole('link', { name: 'Shelf', exact: true }).click();
  await dropFile(page, 'hub-shell.zip', bytes);
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('1 are not here yet');
  await dialog.getByRole('button', { name: 'Bring in 1' }).click();
  await page.getByRole('link', { name: 'Trial' }).click();
  await expect(page.getByRole('heading', { name: 'Hub shell, first side' })).toBeAttached();
  await expect(page.getByText(/touch/).first()).toBeVisible({ timeout: 30_000 });
});

test('what cannot be run says so with its line, and a trial of one’s own begins with a set-up', async ({ page }) => {
  await openRuota(page, '/trial');
  await page.getByRole('button', { name: 'New trial' }).click();
  await expect(side(page).getByText('There is no program yet')).toBeVisible();
  await show(page, 'program');
  const open = side(page).locator('input[type=file]');
  const program = (text: string) => open.setInputFiles({ name: 'own.nc', mimeType: 'text/plain', buffer: Buffer.from(text) });
  await program('T0101 M3 S900\nG71 U2. R1.\n');
  await expect(side(page).getByRole('alert')).toContainText('own.nc, line 2: G71 is a cycle of a control', known);
  await program('T0909\nG0 X10.\n');
  await expect(side(page).getByRole('alert')).toContainText('line 1: tool 9 with offset 9 is not loaded', known);
  // A zero of its own is asked for, said where the job is, and taken.
  await program('T0101\nG97 S900 M3\nG55\nG0 X70. Z2.\nM30\n');
  await expect(side(page).getByRole('alert')).toContainText('line 3: nothing says where the zero G55 lies', known);
  await show(page, 'tried');
  await choose(page, 'Say another zero', 'G55');
  await type(page, 'G55 at Z of the part', '-12.5', side(page).getByRole('group', { name: 'Other zeros of the program' }));
  await expect(side(page).getByRole('alert')).toHaveCount(0, known);
  await side(page).getByRole('button', { name: 'Without G55' }).click();
  await expect(side(page).getByRole('alert')).toContainText('nothing says where the zero G55 lies', known);
  await show(page, 'program');
  await program('T0909\nG0 X10.\n');
  await expect(side(page).getByRole('alert')).toContainText('line 1: tool 9 with offset 9 is not loaded', known);
  // What is typed is not lost by looking elsewhere; it can be undone.
  await side(page).getByRole('button', { name: 'Change it here' }).click();
  await side(page).getByRole('textbox', { name: 'Text of the program' }).fill('G0 X10.');
  await show(page, 'tried');
  await expect(side(page).getByRole('alert')).toContainText('line 1: it moves before a tool was called', known);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(side(page).getByRole('alert')).toContainText('tool 9 with offset 9 is not loaded', known);
  await show(page, 'program');
  // A cut against the rake face, in the blank of the set-up.
  await program('T0101 M4 S900 G97\nG0 X56. Z2.\nG1 Z-10. F0.2\nX62.\n');
  await show(page, 'events');
  await expect(side(page).getByRole('button', { name: /turns the wrong way line 3/ })).toContainText('cuts with M3, and the spindle turns with M4', known);
  // What is to come out: a contour from a file; one that cannot be turned is refused.
  await show(page, 'tried');
  const contour = side(page).getByRole('group', { name: 'What is to come out' });
  const take = (points: number[][]) =>
    contour.locator('input[type=file]').setInputFiles({ name: 'part.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify({ points })) });
  await take([
    [0, -1],
    [0, 28],
    [-10, 28],
  ]);
  await expect(page.getByText(/a point on the wrong side of the axis/)).toBeVisible();
  await take([
    [0, 0],
    [0, 28.2],
    [-10, 28.2],
    [-10, 0],
  ]);
  await expect(contour).toContainText('4 corners');
  // Or the half section of a model; the other end can come first.
  await contour.locator('input[type=file]').setInputFiles('demo/models/sleeve-32-16.step');
  await expect(contour).toContainText(/up to ⌀ \d\d\.000/, known);
  await expect(contour).not.toContainText('4 corners');
  await contour.getByRole('button', { name: 'Turn round' }).click();
  await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled();
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(contour).toContainText('4 corners');
  await show(page, 'events');
  await expect(side(page).getByRole('button', { name: /cuts into the part line 3/ })).toContainText('0.200', known);
  await page.reload();
  await expect(side(page).getByRole('button', { name: /cuts into the part line 3/ })).toBeVisible(known);
});

test('what no edge gets to is looked for on the Shelf, and made of data', async ({ page }) => {
  await openRuota(page, '/trial');
  await expect(side(page).getByText('One thing is wrong')).toBeVisible(known);
  await show(page, 'tried');
  // A waist with a flank of 45 degrees to the chuck, and one of 30 away from it.
  const waist = [
    [0, 13],
    [0, 30],
    [-6, 30],
    [-6 - 8 / Math.tan(Math.PI / 6), 22],
    [-26, 22],
    [-34, 30],
    [-42, 30],
    [-42, 13],
  ];
  const file = { name: 'part.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify({ points: waist })) };
  await side(page).getByRole('group', { name: 'What is to come out' }).locator('input[type=file]').setInputFiles(file);
  await show(page, 'reach');
  const missing = side(page).getByRole('list', { name: 'What is missing' });
  await expect(missing).toContainText('rising at least 45° towards the chuck and 30° away from it', known);
  await expect(missing.getByRole('link', { name: 'DVJNR2525M16' })).toBeVisible();
  await missing.getByRole('button', { name: 'Make DDJNR 2525 M15' }).click();
  await expect(missing.getByRole('link', { name: 'DDJNR2525M15' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(missing.getByRole('button', { name: 'Make DDJNR 2525 M15' })).toBeVisible();
  await missing.getByRole('button', { name: 'Make DDJNR 2525 M15' }).click();
  await missing.getByRole('link', { name: 'DDJNR2525M15' }).click();
  await expect(page.getByRole('region', { name: 'Ledger' })).toContainText('KAPR', known);
});

test('cuts are written from the contour: seen before they are taken, added, run, and undone', async ({ page }) => {
  await openRuota(page, '/trial');
  await expect(side(page).getByText('One thing is wrong')).toBeVisible(known);
  await show(page, 'program');
  await side(page).getByRole('button', { name: 'Change it here' }).click();
  await side(page).getByRole('textbox', { name: 'Text of the program' }).fill('%\nO1\nM30\n%');
  await side(page).getByRole('button', { name: 'Take it' }).click();
  await show(page, 'cuts');
  const cuts = side(page).getByRole('region', { name: 'Cuts' });
  const choose = async (label: string, option: string | RegExp) => {
    await cuts.getByRole('combobox', { name: label, exact: true }).click();
    await page.getByRole('option', { name: option }).click();
  };
  // The first edge of the set-up turns: what that would be is drawn at once.
  await expect(cuts.getByText(/^Takes 19\.\d+ cm³ away/)).toBeVisible(known);
  await expect(page.locator('.trial-way')).not.toHaveCount(0);
  await choose('cut', 'face');
  await expect(cuts.getByText(/^Takes 1\.19 cm³ away/)).toBeVisible(known);
  await cuts.getByRole('button', { name: 'Add it to the program' }).click();
  await expect(cuts.getByRole('status')).toContainText('Added: face.');
  // The next one begins where that ends, and has less to do.
  await choose('cut', 'turn');
  await expect(cuts.getByText(/^Takes 18\.3\d cm³ away/)).toBeVisible(known);
  await cuts.getByRole('textbox', { name: 'depth of cut' }).fill('3');
  await cuts.getByRole('textbox', { name: 'depth of cut' }).press('Enter');
  const blocks = cuts.getByText(/blocks\.$/);
  await expect(blocks).toHaveText(/ 5\d blocks/, known);
  await cuts.getByRole('button', { name: 'Add it to the program' }).click();
  await choose('edge', /Hub-bore bar 16/);
  await choose('side', 'inside');
  await expect(cuts.getByText(/^Takes 4\.3\d cm³ away/)).toBeVisible(known);
  await cuts.getByRole('button', { name: 'Add it to the program' }).click();
  await expect(side(page).getByRole('definition').nth(1)).toHaveText('23.85 cm³', known);
  await expect(side(page).getByText('Nothing touches')).toBeVisible();
  // What it cannot do is said.
  await choose('cut', 'drill');
  await expect(cuts.getByRole('alert')).toContainText('does not stand on the axis', known);
  await expect(cuts.getByRole('button', { name: 'Add it to the program' })).toBeDisabled();
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(side(page).getByRole('definition').nth(1)).toHaveText('0.00 cm³', known);
});

test('the other side is turned from what the first one leaves', async ({ page }) => {
  await openRuota(page, '/trial');
  await side(page).getByRole('button', { name: 'Turn it further, other end in front' }).click(known);
  await expect(page.getByRole('heading', { name: 'Hub shell, first side, other side' })).toBeAttached();
  await show(page, 'tried');
  await expect(side(page).getByRole('radio', { name: 'counter spindle' })).toBeChecked();
  const stock = side(page).getByRole('group', { name: 'What it is turned from' });
  await expect(stock).toContainText(/Z -79\.\d+ to 0\.000, up to ⌀ 60\.000/);
  // It stands a millimetre over the face of the part.
  await stock.getByRole('textbox', { name: 'front at Z' }).fill('1');
  await stock.getByRole('textbox', { name: 'front at Z' }).press('Enter');
  await expect(stock).toContainText(/ to 1\.000,/);
  // As the demo has it: two clampings, the second one written from the contour.
  await page.getByRole('combobox', { name: 'Other trial' }).click();
  await page.getByRole('option', { name: 'Hub shell, second side' }).click();
  await show(page, 'events');
  await expect(side(page).getByText('Nothing touches')).toBeVisible(known);
  await expect(side(page).getByRole('definition').nth(3)).toHaveText(/^0\.00\d/);
});

test('a head that stands at a wrong angle: all angles are looked at, the best one is taken, and the part can be reached', async ({ page }) => {
  await openRuota(page, '/trial/demo-hub-waist');
  await show(page, 'reach');
  const reach = side(page).getByRole('region', { name: 'Reach' });
  await expect(reach.getByRole('button', { name: /head at 18°/ })).toContainText('71 %', known);
  await reach.getByRole('button', { name: 'Look at all angles of the head' }).click();
  await expect(reach.getByRole('progressbar', { name: 'Looking at the angles' })).toBeVisible();
  await reach.getByRole('button', { name: 'Stop' }).click();
  await reach.getByRole('button', { name: 'Look at all angles of the head' }).click();
  const over = reach.getByRole('figure', { name: 'Over the angles of the head' });
  await expect(over).toContainText(/Least stays at -?\d+°/, known);
  await over.getByRole('button').last().click();
  await expect(reach.getByRole('button', { name: /head at -?\d°/ })).toContainText('97 %', known);
  // What was found stays; a press in the chart takes another angle; both can be undone.
  await expect(over).toContainText('Least stays at');
  const chart = over.locator('.recharts-wrapper');
  const box = await chart.boundingBox();
  const pressIn = async (where: Locator, at: { x: number; y: number }) => {
    await where.hover({ position: at });
    await expect(where.locator('.recharts-tooltip-wrapper')).toBeVisible();
    await where.click({ position: at });
  };
  await pressIn(chart, { x: (box?.width ?? 0) * 0.7, y: 80 });
  await expect(reach.getByRole('button', { name: /head at (3|4)\d°/ })).toBeVisible(known);
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(reach.getByRole('button', { name: /head at 18°/ })).toContainText('71 %', known);
  // How the part came out along its contour: a press shows the place in the section.
  await show(page, 'events');
  const off = side(page).getByRole('figure', { name: 'Against the contour' });
  await pressIn(off.locator('.recharts-wrapper'), { x: 120, y: 60 });
  await expect(page.locator('.trial-place')).toBeVisible();
  await expect(page.locator('.trial-off[data-is="left"]')).not.toHaveCount(0);
});

test('what people find out at the machine is found, mended and clean: clamped too deep, an insert upside down, a bar that is too thick', async ({ page }) => {
  await openRuota(page, '/trial/demo-hub-trial-2');
  await expect(side(page).getByText('Nothing touches')).toBeVisible(known);
  // Clamped too deep: the holder gets into the jaws.
  await show(page, 'tried');
  const zero = side(page).getByRole('textbox', { name: 'zero, from the jaws' });
  await zero.fill('12');
  await zero.press('Enter');
  await show(page, 'events');
  await expect(
    side(page)
      .getByRole('button', { name: /touches line/ })
      .first(),
  ).toContainText(/jaws of the counter spindle/, known);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(side(page).getByText('Nothing touches')).toBeVisible(known);
  // An insert that lies upside down for this spindle: the holder is turned round in its station.
  const turnStation = async (to: string) => {
    await page.getByRole('link', { name: 'Carrier' }).click();
    await page.getByRole('row', { name: /^2 / }).first().click();
    const choice = page.getByRole('region', { name: 'Station 2' }).getByRole('radiogroup', { name: 'Which way round' });
    await choice.getByText(to, { exact: true }).click();
    await page.getByRole('link', { name: 'Trial' }).click();
  };
  await turnStation('0°');
  const wrongWay = side(page).getByRole('button', { name: /turns the wrong way line/ });
  await expect(wrongWay.first()).toContainText(/cuts with M\d, and the spindle turns with M\d/, known);
  await turnStation('180°');
  await expect(side(page).getByText('Nothing touches')).toBeVisible(known);
  // A bore that the bar is too thick for: the first side from the set-up's solid blank.
  await page.getByRole('combobox', { name: 'Other trial' }).click();
  await page.getByRole('option', { name: 'Hub shell, first side' }).click();
  await expect(side(page).getByText('One thing is wrong')).toBeVisible(known);
  await show(page, 'tried');
  await side(page).getByRole('group', { name: 'What it is turned from' }).getByRole('button', { name: 'None' }).click();
  await show(page, 'events');
  await expect(side(page).getByText(/^\d+ things are wrong$/)).toBeVisible(known);
  const bar = side(page).getByRole('button', { name: /touches line/ });
  await expect(bar.filter({ hasText: /Hub-bore bar 16.* goes [1-9]\d*\.\d{3} mm into the work/ }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(side(page).getByText('One thing is wrong')).toBeVisible(known);
});

import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { cells, dial, newOn, panel, table, takeOption, unfold } from './at-carrier.ts';
import { test } from './fresh-profile.ts';
import { opened, openRuota, pick, type } from './person.ts';

test('a swivel head is called by its control, and clears over a window that is taken from the chart', async ({ page }) => {
  await openRuota(page, '/carrier');
  await newOn(page, /swivel head/, 'swivel head');
  await page.getByRole('radiogroup', { name: 'Shown below' }).getByText('station').click();
  await page.getByRole('button', { name: /^Hub turning/ }).click();
  const one = panel(page, /^Station 1$/);
  // Upright reads 90 on this control, whose sense is reversed.
  await expect(one.getByRole('textbox', { name: 'on the control' })).toHaveValue('90');
  await one.getByRole('textbox', { name: 'on the control' }).fill('60');
  await one.getByRole('textbox', { name: 'on the control' }).press('Enter');
  await expect(one.getByRole('textbox', { name: 'angle of the head' })).toHaveValue('30');
  await expect(one.getByText(/does not clear what it leaves at 30°/)).toBeVisible();
  // 80 degrees of insert at 95: five on both sides upright, so two at least from -3 to 3.
  const caption = one.locator('figcaption').first();
  await expect(caption).toContainText(/from -3° to 3°, best at 0°/);
  await caption.getByRole('button').click();
  await expect(one.getByRole('textbox', { name: 'angle of the head' })).toHaveValue('0');
  await expect(dial(page, /^Station 1: Hub turning, in order/)).toBeVisible();
  await one.getByRole('textbox', { name: 'angle of the head' }).fill('500');
  await one.getByRole('textbox', { name: 'angle of the head' }).press('Enter');
  await expect(one.getByText('Between -120 and 120')).toBeVisible();
  // The same tool at another angle is another use of it, with numbers of its own.
  await one.getByRole('button', { name: 'Use it at another angle too' }).click();
  await expect(one.getByRole('textbox', { name: 'on the control' })).toHaveValue('45');
  await expect(table(page).getByRole('button', { name: /^1 Hub turning/ })).toHaveCount(2);
  await page.getByRole('radiogroup', { name: 'Use, by the control' }).getByText('90°').click();
  await expect(one.getByRole('textbox', { name: 'angle of the head' })).toHaveValue('0');
  await page.getByRole('button', { name: 'Undo' }).click();
  await one.getByText('Usual poses on this control').click();
  await expect(one.getByRole('row', { name: /at the main chuck 90° 0°/ })).toBeVisible();
});

test('a slide measured from its reference says its geometry value, and where the tool ends before the centre', async ({ page }) => {
  await openRuota(page, '/carrier');
  const slide = await newOn(page, /slides/, 'tool slide');
  await slide.getByRole('textbox', { name: 'smallest position' }).fill('310');
  await slide.getByRole('textbox', { name: 'smallest position' }).press('Enter');
  await page.getByRole('radiogroup', { name: 'Shown below' }).getByText('station').click();
  await page.getByRole('button', { name: /^Hub turning/ }).click();
  const one = panel(page, /^Station 1$/);
  const numbers = one.locator('.slide-sketch .number-list');
  // The tip stands 159 out: 318 on diameter, 8 past the centre at 310; 310.4 would do.
  await expect(numbers).toContainText(/to pass the centre\s*310\.400.*of the model\s*318\.000.*difference\s*7\.600.*passes the centre by\s*8\.000/s);
  await page.getByText('machine and work').click();
  const again = page.getByRole('group', { name: 'tool slide', exact: true });
  await unfold(again, 'Stations and travel');
  await again.getByRole('textbox', { name: 'smallest position' }).fill('330');
  await again.getByRole('textbox', { name: 'smallest position' }).press('Enter');
  await page.getByRole('radiogroup', { name: 'Shown below' }).getByText('station').click();
  await expect(one.getByText(/ends 12 mm \(on diameter\) before the centre/)).toBeVisible();
});

test('a machine is written as a file, changed, read again, and one that is broken is refused with the place', async ({ page }) => {
  await openRuota(page, '/carrier');
  await page.getByText('machine and work').click();
  const [saved] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Write as a file' }).click()]);
  const machine = JSON.parse(readFileSync(await saved.path(), 'utf8')) as { name: string; carriers: { stations: number; travel: { x: number[] } }[] };
  expect(machine.name).toBe('Twin-spindle lathe, 12 stations');
  const open = async (content: unknown) => {
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('button', { name: 'From a file' }).click()]);
    await chooser.setFiles({ name: 'ours.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(content)) });
  };
  machine.carriers[0].travel.x.reverse();
  await open(machine);
  await expect(page.getByText(/ours\.json.*carriers\.0\.travel\.x.*larger value to the smaller/)).toBeVisible();
  machine.carriers[0].travel.x.reverse();
  await open({ ...machine, name: 'Our lathe', carriers: [{ ...machine.carriers[0], stations: 16 }] });
  await expect(page.getByRole('combobox', { name: 'machine' })).toHaveValue('Our lathe');
  await expect(dial(page, /^Station 16, empty/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('combobox', { name: 'machine' })).toHaveValue('Twin-spindle lathe, 12 stations');
  // The control of an inch machine is told inches, whatever is shown else.
  await unfold(page.getByRole('group', { name: 'control', exact: true }), 'How it counts');
  await page.getByRole('radiogroup', { name: 'Lengths are told in' }).getByText('inch').click();
  expect((await cells(page, /1 Hub turning/)).slice(7, 9)).toEqual(['-12.5197', '-2.2047']);
  await page.getByRole('button', { name: 'Undo' }).click();
  // With fewer stations one stands where there is none: it is said, stays, and is there again.
  const turret = page.getByRole('group', { name: 'upper turret', exact: true });
  await unfold(turret, 'Stations and travel');
  await turret.getByRole('textbox', { name: 'stations' }).fill('3');
  await turret.getByRole('textbox', { name: 'stations' }).press('Enter');
  await expect(page.getByRole('group', { name: 'Station 4, which is not there' })).toContainText('upper turret has 3 stations; there is no station 4');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(dial(page, /^Station 4: Hub boring, both spindles/)).toBeVisible();
  // A chuck as a component is: measured, kept in the machine's file, and again by its sizes.
  const spindle = page.getByRole('group', { name: 'main spindle', exact: true });
  await unfold(spindle, /^Chuck, jaws end 126/);
  const shape = spindle.getByRole('combobox', { name: 'Shape of the chuck of the main spindle' });
  await shape.click();
  await page.getByRole('option', { name: 'Sleeve 32 to 16' }).click();
  await expect(spindle.getByText(/^Measured, as \d+ cylinders/)).toBeVisible();
  await expect(spindle.getByText(/^Chuck, jaws end 18\.000/)).toBeVisible();
  const [shaped] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Write as a file' }).click()]);
  const { spindles } = JSON.parse(readFileSync(await shaped.path(), 'utf8')) as { spindles: { main: { chuck: { measured: { steps: { to: number }[] } } } } };
  expect(spindles.main.chuck.measured.steps.at(-1)?.to).toBeCloseTo(18, 3);
  await shape.click();
  await page.getByRole('option', { name: 'by its sizes' }).click();
  await expect(spindle.getByRole('textbox', { name: 'chuck length' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(spindle.getByText(/^Chuck, jaws end 126/)).toBeVisible();
  // A copy of one's own, with another carrier below the axis; what stands on the first stays where it is.
  await page.getByRole('button', { name: 'Copy it' }).click();
  await expect(page.getByRole('combobox', { name: 'machine' })).toHaveValue('Twin-spindle lathe, 12 stations, copy');
  const name = page.getByRole('textbox', { name: 'its name' });
  await name.fill('Old lathe');
  await name.press('Enter');
  await expect(page.getByRole('combobox', { name: 'machine' })).toHaveValue('Old lathe');
  await page.getByRole('button', { name: 'Add a turret' }).click();
  const added = page.getByRole('group', { name: 'turret', exact: true });
  await unfold(added, 'Stations and travel');
  await added.getByRole('radiogroup', { name: 'stands of the turret' }).getByText('below the axis').click();
  await added.getByRole('radiogroup', { name: 'stations on its of the turret' }).getByText('face').click();
  await expect(added.getByText(/turret, 12 stations on its face, below the axis/)).toBeVisible();
  await page.getByRole('radiogroup', { name: 'Carrier' }).getByText('turret', { exact: true }).click();
  await expect(dial(page, /^Station 1, empty/)).toBeVisible();
  await page.getByRole('radiogroup', { name: 'Carrier' }).getByText('upper turret').click();
  await expect(dial(page, /^Station 4: Hub boring, both spindles/)).toBeVisible();
  await page.getByText('machine and work').click();
  await added.getByRole('button', { name: 'Remove it' }).click();
  await expect(page.getByRole('radiogroup', { name: 'Carrier' })).toHaveCount(0);
});

test('a block has another foot to stand on, and bolts that it has to find', async ({ page }) => {
  await openRuota(page, '/shelf');
  await page.getByRole('link', { name: 'Slot block 40', exact: true }).click();
  const mount = await opened(page, 'Mount');
  await mount.getByRole('button', { name: 'Pick another foot' }).click();
  await pick(page, /^plane, normal parallel to/, { near: [0.62, 0.6] });
  await expect(mount.locator('.sub-name')).toHaveText('Foot 2: VDI 40');
  // It may be the mount instead, and the one before is another foot then.
  await mount.getByRole('button', { name: 'Edit Foot 2' }).click();
  await page.waitForTimeout(500);
  await mount.getByRole('button', { name: 'Make it the mount' }).click();
  await expect(mount.locator('.sub-name')).toHaveText('Foot 1: VDI 40');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(mount.locator('.sub-name')).toHaveText('Foot 2: VDI 40');
  await page.getByRole('link', { name: 'Carrier' }).click();
  await dial(page, /^Station 1: Hub turning/).click();
  const one = panel(page, /^Station 1$/);
  const before = (await cells(page, /1 Hub turning/)).slice(7, 9);
  await takeOption(page, 'Stands on', 'Foot 2, VDI 40');
  await expect.poll(async () => (await cells(page, /1 Hub turning/)).slice(7, 9)).not.toEqual(before);
  await expect(one.getByRole('combobox', { name: 'Stands on' })).toHaveValue('Foot 2, VDI 40');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await cells(page, /1 Hub turning/)).slice(7, 9)).toEqual(before);
  await expect(one.getByRole('combobox', { name: 'Stands on' })).toHaveValue('Serrated shank, VDI 40');
  // Bolted faces: four bolts take three numbers; or as a block's holes are.
  await page.getByText('machine and work').click();
  const turret = page.getByRole('group', { name: 'upper turret', exact: true });
  await unfold(turret, 'Stations and travel');
  await turret.getByRole('combobox', { name: 'takes' }).click();
  await page.getByRole('option', { name: 'bolted face', exact: true }).click();
  const bolts = turret.getByRole('group', { name: 'Bolts of the upper turret' });
  await expect(bolts.getByText(/None are said/)).toBeVisible();
  await type(page, 'apart in X', '60', bolts);
  await type(page, 'apart in Y', '40', bolts);
  await expect(bolts.getByText(/None are said/)).toBeVisible();
  await type(page, 'thread', '8', bolts);
  await expect(bolts.getByText(/None are said/)).toHaveCount(0);
  await dial(page, /^Station 1: Hub turning/).click();
  await expect(one.getByText(/bolts of upper turret find no hole/)).toBeVisible();
});

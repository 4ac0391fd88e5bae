import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { test } from './fresh-profile.ts';
import { choose, onBench, opened, openRead } from './person.ts';

test('a holder keeps its bore open to the work; its profile is changed by hand, what cuts in is shown, and undo brings it back', async ({ page }) => {
  await openRead(page, 'holder-10.step');
  const made = await opened(page, 'Holder geometry');
  await made.getByText('revolved', { exact: true }).click();
  await choose(page, 'Bores of holder geometry', 'open to the work');
  await made.getByRole('button', { name: 'Make' }).click();
  await expect(made).toContainText('never inside', { timeout: 90_000 });
  await expect(made.locator('.ledger-sub').first()).toContainText(/revolved: [\d,]+ triangles, growth up to 0\.0\d+; \d+ pieces/);
  await page.getByRole('button', { name: 'Change the profile' }).click();
  // The widest corner goes: something of the holder then lies outside.
  const corners = page.getByRole('button', { name: /^Corner at z/ });
  const widths = await corners.evaluateAll((all) => all.map((c) => Number(/diameter ([\d.]+)/.exec(c.getAttribute('aria-label') ?? '')?.[1])));
  const widest = corners.nth(widths.indexOf(Math.max(...widths)));
  await widest.focus();
  await expect(page.getByLabel('Corner diameter')).toHaveValue(Math.max(...widths).toFixed(3));
  // Two changes, the second while the first is being made: none is lost. Each is a tenth in radius.
  await widest.press('ArrowUp');
  await widest.press('ArrowUp');
  await expect(made).toContainText('Its profile was changed by hand', { timeout: 90_000 });
  await expect(page.getByRole('button', { name: 'Stop' })).toHaveCount(0, { timeout: 90_000 });
  await expect(page.getByLabel('Corner diameter')).toHaveValue((Math.max(...widths) + 0.4).toFixed(3));
  await expect(made).toContainText('over the tolerance');
  await widest.press('Delete');
  await expect(made).toContainText('cuts into the tool', { timeout: 90_000 });
  await expect(made).toContainText('Its profile was changed by hand');
  await expect(page.locator('.strip-wrong')).toHaveCount(1);
  await expect(page.locator('.stage-label').filter({ hasText: 'geometry cuts in here' })).toHaveCount(1);
  // It is kept, and a bad number is refused where it is typed.
  await page.reload();
  await onBench(page, 'holder-10.step');
  await expect(made).toContainText('cuts into the tool');
  await page.getByRole('button', { name: 'Change the profile' }).click();
  await corners.nth(4).focus();
  await page.getByLabel('Corner z').fill('wide');
  await page.getByLabel('Corner z').press('Enter');
  await expect(page.getByRole('group', { name: 'Profile' })).toContainText('is not a length');
  await page.getByRole('button', { name: 'Done' }).click();
  await made.getByRole('button', { name: 'Take the computed one' }).click();
  await made.getByRole('button', { name: 'Make' }).click();
  await expect(made).toContainText('never inside', { timeout: 90_000 });
  await expect(made).not.toContainText('changed by hand');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(made).toContainText('cuts into the tool');
});

test('the plan outline of a turning tool is drawn and saved, cutting part and holder on layers of their own', async ({ page }) => {
  await openRead(page, 'turning-7.step');
  const plan = await opened(page, 'Plan outline');
  await plan.getByRole('button', { name: 'Make' }).click();
  await expect(plan).toContainText('never inside', { timeout: 90_000 });
  await expect(page.locator('.strip-plan.cutting')).toHaveCount(1);
  const pieces = Number((await plan.locator('.ledger-value').innerText()).replace(' pieces', ''));
  const save = async (kind: string) => {
    const [download] = await Promise.all([page.waitForEvent('download'), plan.getByRole('button', { name: kind }).click()]);
    return { name: download.suggestedFilename(), text: readFileSync(await download.path(), 'utf8') };
  };
  const dxf = await save('DXF');
  expect(dxf.name).toBe('turning-7-plan.dxf');
  const lines = dxf.text.split(/\r?\n/).map((l) => l.trim());
  const loops = lines.flatMap((l, i) => (l === 'LWPOLYLINE' ? [i] : []));
  // A vertex a piece, on two layers.
  const counts = loops.map((i) => Number(lines[lines.indexOf('90', i) + 1]));
  expect(counts.reduce((a, b) => a + b, 0)).toBe(pieces);
  expect(new Set(loops.map((i) => lines[lines.indexOf('8', i) + 1]))).toEqual(new Set(['cutting part', 'holder']));
  // The solid of it: closed, in the mount's frame, as long as the drawing is.
  const [download] = await Promise.all([page.waitForEvent('download', { timeout: 90_000 }), plan.getByRole('button', { name: 'STL' }).click()]);
  const stl = readFileSync(await download.path());
  const count = stl.readUInt32LE(80);
  const corners = Array.from({ length: 3 * count }, (_, i) => [0, 1, 2].map((k) => stl.readFloatLE(96 + 50 * Math.floor(i / 3) + 12 * (i % 3) + 4 * k)));
  const sides = new Map<string, number>();
  corners.forEach((c, i) => {
    const next = corners[i % 3 === 2 ? i - 2 : i + 1];
    for (const [key, by] of [
      [`${c.join()} ${next.join()}`, 1],
      [`${next.join()} ${c.join()}`, -1],
    ] as const)
      sides.set(key, (sides.get(key) ?? 0) + by);
  });
  expect(count).toBeGreaterThan(20);
  expect([...sides.values()].every((n) => n === 0)).toBe(true);
  await expect(page.getByText(/triangles in .* steps?/)).toBeVisible();
  const svg = await save('SVG');
  expect(svg.text).toMatch(/<svg [^>]*width="[\d.]+mm"/);
  // The functional length of the tool, from its own mount, is in the drawing.
  const lf = Number((await (await opened(page, 'Tip')).innerText()).match(/LF\s+([\d.]+)/)?.[1]);
  const xs = loops.flatMap((start, k) =>
    lines
      .slice(start)
      .flatMap((l, j, all) => (l === '10' && j % 2 === 1 ? [Number(all[j + 1])] : []))
      .slice(0, counts[k]),
  );
  // The virtual tip lies in the middle of the nose, whose ends are the corners of the drawing: nearer than its radius.
  expect(Math.abs(Math.max(...corners.map((c) => c[2])) - lf)).toBeLessThan(0.15);
  expect(lf - Math.max(...xs)).toBeLessThan(0.2);
  expect(lf - Math.max(...xs)).toBeGreaterThan(-0.05);
});

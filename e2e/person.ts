// What a person does with the application, in their words: open, point, pick, read numbers.
import { readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { test } from './fresh-profile.ts';
import { WARM_UP_COOKIE } from './warm-up.ts';

export const demoFile = (name: string) => join(import.meta.dirname, '../demo/models', name);

/** Opens the application in a fresh browser profile and fails the test on any error of the page. What it compiles ahead is left out unless `warm`. */
export async function openRuota(page: Page, path = '/shelf', { warm = false } = {}): Promise<void> {
  page.on('pageerror', (error) => {
    throw error;
  });
  if (warm) await page.context().addCookies([{ name: WARM_UP_COOKIE, value: '1', url: test.info().project.use.baseURL }]);
  await page.goto(path);
  await expect(page.getByRole('navigation')).toBeVisible();
}

/** Drops a file on the window, as from the desktop. */
export async function dropFile(page: Page, name: string, content: Uint8Array): Promise<void> {
  const data = await page.evaluateHandle(
    ([fileName, base64]) => {
      const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const transfer = new DataTransfer();
      transfer.items.add(new File([bytes], fileName));
      return transfer;
    },
    [name, Buffer.from(content).toString('base64')] as const,
  );
  await page.dispatchEvent('body', 'dragenter', { dataTransfer: data });
  const target = page.getByText(/^Drop models/);
  await expect(target).toBeVisible();
  for (const type of ['dragenter', 'dragover', 'drop']) await target.dispatchEvent(type, { dataTransfer: data });
}

export const dropDemo = (page: Page, name: string) => dropFile(page, name, readFileSync(demoFile(name)));

/** Opens a file through the button and the system's dialog. */
export async function chooseFile(page: Page, path: string): Promise<void> {
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('button', { name: 'Open a file' }).first().click()]);
  await chooser.setFiles(path);
}

/** How often a page has called a method of the browser since it was opened; of a store's method, of the store with that name. To be asked before the page is. */
export async function countCalls(page: Page, of: 'WebGL2RenderingContext' | 'IDBObjectStore', method: string, name?: string): Promise<() => Promise<number>> {
  await page.addInitScript(
    ([type, called, only]) => {
      const counted = globalThis as unknown as { calls: number } & Record<string, { prototype: Record<string, () => unknown> }>;
      counted.calls = 0;
      counted[type].prototype[called] = new Proxy(counted[type].prototype[called], {
        apply(original, self: { readonly name?: string }, values) {
          if (only === null || self.name === only) counted.calls++;
          return Reflect.apply(original, self, values) as unknown;
        },
      });
    },
    [of, method, name ?? null] as const,
  );
  return () => page.evaluate(() => (globalThis as unknown as { calls: number }).calls);
}

/** A model of the reading corpus. */
export const corpusFile = (name: string) => join(import.meta.dirname, '../demo/corpus/models', name);
/** A model of the wild corpus. */
export const wildFile = (name: string) => join(import.meta.dirname, '../demo/corpus/wild/models', name);

/** Takes everything that was read from the model. */
export const acceptAll = (page: Page) => page.getByRole('button', { name: /^Accept all/ }).click({ timeout: 30_000 });

/** Opens a model of the corpus in a fresh application and takes everything that was read from it. */
export async function openRead(page: Page, name: string): Promise<void> {
  await openRuota(page);
  await chooseFile(page, corpusFile(name));
  await onBench(page, name);
  await acceptAll(page);
}

/** Waits until the Bench shows this component with its model. */
export async function onBench(page: Page, file: string): Promise<void> {
  await expect(page.getByText(basename(file)).first()).toBeVisible({ timeout: 60_000 });
  await expect(page.locator('.stage canvas')).toBeVisible({ timeout: 60_000 });
  // The name may stand in the panel of the job, and the stage be another area's, until then.
  await expect(page.getByRole('region', { name: 'Ledger' })).toBeVisible({ timeout: 60_000 });
}

interface Where {
  /** Where to look first, as shares of the stage's width and height; its middle without it. */
  readonly near?: readonly [number, number];
  /** Also walk through what lies behind, with Tab. */
  readonly behind?: boolean;
  /** Pixels between the places that are looked at. */
  readonly step?: number;
}

/**
 * Moves the pointer over the stage, outwards from `near`, until what is named under it matches. Gives the text that was shown; the
 * pointer stays there.
 */
export async function pointAt(page: Page, what: RegExp, { near = [0.5, 0.5], behind = false, step = 14 }: Where = {}): Promise<string> {
  const stage = page.getByRole('application', { name: /^3D stage/ });
  const box = await stage.boundingBox();
  if (!box) throw new Error('there is no stage');
  const places: [number, number][] = [];
  for (let x = step; x < box.width - step; x += step) for (let y = step; y < box.height - step; y += step) places.push([x, y]);
  const [cx, cy] = [box.width * near[0], box.height * near[1]];
  places.sort((a, b) => Math.hypot(a[0] - cx, a[1] - cy) - Math.hypot(b[0] - cx, b[1] - cy));
  const named = page.locator('.stage-tooltip > div').first();
  for (const [x, y] of places) {
    await page.mouse.move(box.x + x, box.y + y);
    const { text, count } = await page.evaluate(
      () =>
        new Promise<{ text: string; count: number }>((done) =>
          requestAnimationFrame(() =>
            requestAnimationFrame(() => {
              const tooltip = document.querySelector('.stage-tooltip');
              done({ text: tooltip?.firstElementChild?.textContent ?? '', count: Number(/Tab\s*\d+ of (\d+)/.exec(tooltip?.textContent ?? '')?.[1] ?? 0) });
            }),
          ),
        ),
    );
    if (what.test(text)) return text;
    if (!behind || count < 2) continue;
    await stage.focus();
    for (let i = 1; i < count; i++) {
      await page.keyboard.press('Tab');
      const next = await named.innerText();
      if (what.test(next)) return next;
    }
  }
  throw new Error(`nothing on the stage is named like ${what}`);
}

/** Where a label stands on the stage, as shares of its width and height. */
export async function placeOfLabel(page: Page, text: RegExp): Promise<[number, number]> {
  const find = () => page.locator('.stage-label').filter({ hasText: text }).first().boundingBox();
  let label = await find();
  // The view may still be on its way.
  for (let before = label; ; before = label) {
    await page.waitForTimeout(200);
    label = await find();
    if (label && before && Math.hypot(label.x - before.x, label.y - before.y) < 0.5) break;
  }
  const stage = await page.getByRole('application', { name: /^3D stage/ }).boundingBox();
  if (!label || !stage) throw new Error(`no label ${text} on the stage`);
  return [(label.x + label.width / 2 - stage.x) / stage.width, (label.y + label.height / 2 - stage.y) / stage.height];
}

/** Points at it and takes it: by click, or with Enter where it lies behind. */
export async function pick(page: Page, what: RegExp, options: Where = {}): Promise<void> {
  await pointAt(page, what, options);
  if (options.behind) await page.keyboard.press('Enter');
  else {
    await page.mouse.down();
    await page.mouse.up();
  }
}

/** Two animation frames: one in which the pointer is looked up, one in which the name is drawn. */
export const frames = (page: Page) => page.evaluate(() => new Promise<void>((done) => requestAnimationFrame(() => requestAnimationFrame(() => done()))));

/** The entry of the Ledger with this title. */
export const entry = (page: Page, title: string) => page.locator('.ledger-entry').filter({ has: page.getByRole('heading', { name: title, exact: true }) });

/** The same, opened where it is closed. */
export async function opened(page: Page, title: string) {
  const found = entry(page, title);
  const line = found.getByRole('button', { name: title, exact: true });
  if ((await line.getAttribute('aria-expanded')) === 'false') await line.click();
  return found;
}

/** Types into a number field and leaves it with Enter. */
export async function type(page: Page, label: string | RegExp, value: string, within = page.locator('body')): Promise<void> {
  const field = within
    .getByRole('textbox', { name: label, exact: true })
    .or(within.getByRole('combobox', { name: label, exact: true }))
    .first();
  await field.click();
  await field.fill(value);
  await field.press('Enter');
}

/** Chooses in a select by its label. */
export async function choose(page: Page, label: string, option: string, nth = 0): Promise<void> {
  const wanted = page.getByRole('option', { name: option, exact: true });
  // What arrives meanwhile may draw the list anew, and close it.
  await expect(async () => {
    if (!(await wanted.isVisible())) await page.getByRole('combobox', { name: label }).nth(nth).click();
    await wanted.click({ timeout: 3000 });
  }).toPass({ timeout: 30_000 });
}

/** Turns the view: 360 degrees for the height of the stage. */
export async function orbit(page: Page, degRight: number, degUp: number): Promise<void> {
  const box = await page.locator('.stage canvas').boundingBox();
  if (!box) throw new Error('there is no stage');
  // From a corner without a panel.
  const [x, y] = [box.x + box.width * 0.6, box.y + box.height * 0.85];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - (degRight / 360) * box.height, y + (degUp / 360) * box.height, { steps: 6 });
  await page.mouse.up();
  await frames(page);
}

/** Fits the view, by its key. */
export async function fit(page: Page): Promise<void> {
  await page.getByRole('application', { name: /^3D stage/ }).focus();
  await page.keyboard.press('f');
  await frames(page);
}

/** How many pixels of the stage have about the hue of a colour, whatever the light on them: what a person sees as "it is blue now". */
export async function pixelsOfHue(page: Page, hex: string): Promise<number> {
  const shot = (await page.locator('.stage canvas').screenshot()).toString('base64');
  return page.evaluate(
    async ([png, wanted]) => {
      const hueOf = (r: number, g: number, b: number) => (Math.atan2(Math.sqrt(3) * (g - b), 2 * r - g - b) * 180) / Math.PI;
      const isGrey = (r: number, g: number, b: number) => Math.max(r, g, b) - Math.min(r, g, b) < 0.25 * Math.max(r, g, b);
      const bitmap = await createImageBitmap(await (await fetch(`data:image/png;base64,${png}`)).blob());
      const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d') as OffscreenCanvasRenderingContext2D;
      context.drawImage(bitmap, 0, 0);
      const { data } = context.getImageData(0, 0, bitmap.width, bitmap.height);
      const hue = hueOf(...([1, 3, 5].map((i) => parseInt(wanted.slice(i, i + 2), 16)) as [number, number, number]));
      let count = 0;
      for (let i = 0; i < data.length; i += 4) {
        const [r, g, b] = [data[i], data[i + 1], data[i + 2]];
        if (!isGrey(r, g, b) && Math.abs(((hueOf(r, g, b) - hue + 540) % 360) - 180) < 8) count++;
      }
      return count;
    },
    [shot, hex] as const,
  );
}

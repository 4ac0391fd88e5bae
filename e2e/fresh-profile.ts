// Tests begin in a fresh profile, but not in a fresh browser: one window of each process stays open and holds the kernel's code, so that the pages of all tests, which
// it opens beside itself, find it compiled. What pages keep is emptied before each of them.
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { test as base, type BrowserContext, type Page } from '@playwright/test';

interface Profile {
  readonly context: BrowserContext;
  /** Closes what is open and empties what pages keep: as at the very first start. */
  empty(): Promise<void>;
  /** Another page, in the process of those that it opened before. */
  open(): Promise<Page>;
}

export const test = base.extend<object, { profile: Profile }>({
  profile: [
    async ({ browser }, use, { project }) => {
      const { baseURL, viewport, contextOptions } = project.use;
      if (!baseURL) throw new Error('the tests need the address of the application');
      const context = await browser.newContext({ ...contextOptions, baseURL, viewport });
      const holder = await context.newPage();
      await holder.goto('/code');
      const code = readdirSync(join(import.meta.dirname, '../dist/web/assets')).filter((name) => name.endsWith('.wasm'));
      await holder.evaluate(async (names) => {
        const held = globalThis as unknown as { code: WebAssembly.Module[] };
        held.code = await Promise.all(names.map((name) => WebAssembly.compileStreaming(fetch(`/assets/${name}`))));
      }, code);
      await use({
        context,
        empty: async () => {
          for (const page of context.pages()) if (page !== holder) await page.close();
          await context.clearCookies();
          const session = await context.newCDPSession(holder);
          await session.send('Storage.clearDataForOrigin', { origin: baseURL, storageTypes: 'indexeddb,local_storage' });
          await session.detach();
        },
        open: async () => {
          // Only a page that another one opens shares its process.
          const [page] = await Promise.all([context.waitForEvent('page'), holder.evaluate(() => void window.open('about:blank'))]);
          return page;
        },
      });
      await context.close();
    },
    { scope: 'worker' },
  ],
  context: async ({ profile }, use) => {
    await profile.empty();
    await use(profile.context);
  },
  page: async ({ profile, context: _emptied, contextOptions }, use) => {
    const page = await profile.open();
    if (contextOptions.reducedMotion) await page.emulateMedia({ reducedMotion: contextOptions.reducedMotion });
    await use(page);
  },
});

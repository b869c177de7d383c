import { test as plain, type BrowserContext } from '@playwright/test';

export { chromium, expect } from '@playwright/test';
export type { Browser, BrowserContext, Locator, Page } from '@playwright/test';

const viewport = { width: 1280, height: 800 };

/**
 * Browser tests that share one browser profile: scripts and typefaces are fetched and compiled once
 * and not for each test. What a test leaves behind (cookies, storage, pages) is cleared before the
 * next one.
 *
 * A test fails too if one of its pages has a style that its own policy (CSP Level 3) does not
 * allow: such a style is not drawn, and no other test would see it.
 */
export const test = plain.extend<{ styles: void }, { shared: BrowserContext }>({
  shared: [
    async ({ browser }, use) => {
      const context = await browser.newContext({
        baseURL: process.env.HAND_STAMP_URL,
        viewport,
        acceptDownloads: true,
      });
      // as for somebody who knows the program; the first visit is a test of its own
      await context.addInitScript(() => {
        try {
          for (const [name, value] of [
            ['hand-stamp usual settings', 'open'],
            ['hand-stamp first visit', 'seen'],
          ] as const)
            if (localStorage.getItem(name) === null) localStorage.setItem(name, value);
        } catch {
          // a frame without an origin remembers nothing
        }
      });
      await use(context);
      await context.close();
    },
    { scope: 'worker' },
  ],
  context: async ({ shared }, use) => {
    await use(shared);
    await shared.unrouteAll({ behavior: 'ignoreErrors' });
    for (const page of shared.pages()) await page.close();
    await shared.clearCookies();
    await shared.clearPermissions();
  },
  page: async ({ context, baseURL }, use) => {
    const page = await context.newPage();
    const devTools = await context.newCDPSession(page);
    await devTools.send('Storage.clearDataForOrigin', {
      origin: new URL(baseURL!).origin,
      storageTypes: 'cookies,local_storage,indexeddb,service_workers,cache_storage',
    });
    await devTools.detach();
    await use(page);
  },
  styles: [
    async ({ context }, use) => {
      const refused = new Set<string>();
      const hear = (message: { text(): string }) => {
        const text = message.text();
        if (/Content Security Policy/.test(text) && /style-src/.test(text)) refused.add(text);
      };
      context.on('console', hear);
      await use();
      context.off('console', hear);
      plain.expect([...refused]).toEqual([]);
    },
    { auto: true },
  ],
});

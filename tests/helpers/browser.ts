import { test as plain } from '@playwright/test';

export { chromium, expect } from '@playwright/test';
export type { Browser, BrowserContext, Locator, Page } from '@playwright/test';

/**
 * A browser test that fails too where a page of it has a style that its own policy (CSP Level 3)
 * does not allow: what is refused so is not drawn, and no other test would see it.
 */
export const test = plain.extend<{ styles: void }>({
  styles: [
    async ({ context }, use) => {
      const refused = new Set<string>();
      context.on('console', (message) => {
        const text = message.text();
        if (/Content Security Policy/.test(text) && /style-src/.test(text)) refused.add(text);
      });
      await use();
      plain.expect([...refused]).toEqual([]);
    },
    { auto: true },
  ],
});

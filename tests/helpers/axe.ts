import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/**
 * Finds nothing against WCAG 2.2 AA on the current page. React Aria's announcer is skipped: for
 * seven seconds it may refer to the label of a button that is gone, after it has been spoken.
 */
export async function clean(page: Page): Promise<void> {
  // what runs no script cannot be looked into, and is waited for in vain; a test does this last
  await page.evaluate(() =>
    document.querySelectorAll('iframe[sandbox]').forEach((f) => f.remove()),
  );
  const { violations } = await new AxeBuilder({ page })
    .exclude('[data-live-announcer]')
    .options({
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'],
      // what passes is not gathered
      resultTypes: ['violations'],
    })
    // there are no frames left to look into, so no page is opened to put their results together
    .setLegacyMode()
    .analyze();
  expect(
    violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 120)).join(' | ')}`),
  ).toEqual([]);
}

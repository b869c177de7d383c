import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '../helpers/browser';

test('a bed sign’s record has a page that works on a phone without scripts, and shows people signed in more', async ({
  page,
  browser,
}) => {
  await page.goto('/jobs');
  await page.getByRole('link', { name: 'Bed signs', exact: true }).click();
  await page.keyboard.press('1');
  const open = page.getByRole('link', { name: 'Open the selected record’s page' });
  const address = (await open.getAttribute('href'))!;
  expect(address).toMatch(/^\/r\/[A-Za-z0-9_-]{22}$/);
  await page.goto(address);
  await expect(page.getByText('Accession', { exact: true })).toBeVisible();
  // a stranger, by a name of this machine that gives no demo visitor, with a phone
  const phone = await browser.newContext({
    viewport: { width: 390, height: 844 },
    javaScriptEnabled: false,
    extraHTTPHeaders: { 'x-forwarded-for': '203.0.113.9' },
    baseURL: process.env.HAND_STAMP_URL,
  });
  const stranger = await phone.newPage();
  const answer = (await stranger.goto(address))!;
  expect(answer.headers()['x-robots-tag']).toContain('noindex');
  await expect(stranger.getByRole('heading', { level: 1 })).toBeVisible();
  await expect(stranger.getByText('Site', { exact: true })).toBeVisible();
  await expect(stranger.getByText('Accession', { exact: true })).toHaveCount(0);
  await expect(stranger.getByAltText('Code of this page’s record')).toBeVisible();
  await phone.close();
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(address);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
});

test('what pages show is said in a sentence, and is so on the page at once', async ({ page }) => {
  await page.goto('/jobs');
  await page.getByRole('link', { name: 'Asset tags', exact: true }).click();
  await page.keyboard.press('1');
  await page.getByTitle('Create a web page for each record').click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: 'Create a web page for each record' })
    .click();
  const open = page.getByRole('link', { name: 'Open the selected record’s page' });
  await expect(open).toBeVisible();
  await page.getByTitle('What pages show', { exact: true }).click();
  await page.getByRole('group', { name: 'Where' }).getByRole('button', { name: 'anyone' }).click();
  await expect(page.getByTitle('What pages show', { exact: true })).toHaveText('Where');
  await page.keyboard.press('Escape');
  await page.goto((await open.getAttribute('href'))!);
  await expect(page.getByText('Where', { exact: true })).toBeVisible();
});

test('a person fetches their own badge for what only they know', async ({ page }) => {
  await page.goto('/jobs');
  await page.getByRole('link', { name: 'Badges, open weekend', exact: true }).click();
  await expect(page).toHaveURL(/jobs\/\d+/);
  const job = Number(/jobs\/(\d+)/.exec(page.url())![1]);
  await page.keyboard.press('4');
  await page.getByTitle('Page where people get their own code').click();
  await page.getByRole('button', { name: 'Create this page' }).click();
  const address = (await page.getByRole('link', { name: /\/f\// }).getAttribute('href'))!;
  const own = (await (await page.request.get(`/api/jobs/${job}/own`)).json()) as {
    page: { document: { asked: string[] } };
  };
  const { rows } = (await (
    await page.request.get(`/api/jobs/${job}/rows?filter=ready&limit=5`)
  ).json()) as { rows: { values: Record<string, string> }[] };
  const given = own.page.document.asked.map((id) => rows[0]!.values[id]!);
  await page.goto(address);
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  const fields = page.getByRole('textbox');
  await expect(fields).toHaveCount(given.length);
  for (const i of given.keys()) await fields.nth(i).fill('nobody');
  await page.getByRole('button', { name: 'Download my code (PNG)' }).click();
  await expect(page.getByRole('alert')).toContainText('We found no match');
  for (const [i, text] of given.entries()) await fields.nth(i).fill(` ${text.toLowerCase()} `);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download to print (PDF)' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toMatch(/\.pdf$/);
  const bytes = readFileSync((await file.path())!);
  expect(bytes.subarray(0, 5).toString()).toBe('%PDF-');
});

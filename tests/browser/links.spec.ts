import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '../helpers/browser';

const soft = (page: Page) => page.getByRole('status').filter({ hasText: /changed|undone/ });
/** The answer to a scan, without following the redirect. */
const scanned = (page: Page, code: string) =>
  page.request.get(`/${code}`, {
    maxRedirects: 0,
    headers: { 'user-agent': 'Mozilla/5.0 (iPhone) Mobile Safari' },
  });
const grid = (page: Page) => page.getByRole('grid', { name: 'Links' });
const panel = (page: Page) => page.getByRole('region', { name: 'The selected link' });

test('a link is made, led elsewhere, taken back and paused, and each is so at once for whoever scans it', async ({
  page,
}) => {
  await page.goto('/links');
  await expect(grid(page).getByRole('row').first()).toBeVisible();
  await page.getByRole('button', { name: 'New link' }).click();
  await page.getByLabel('Name, to find it again').fill('Salt marsh walk');
  await page.getByLabel('Web address it leads to').fill('marrambay.example/walks');
  await expect(page.getByText('Put https:// in front')).toBeVisible();
  await page.getByLabel('Web address it leads to').fill('https://marrambay.example/walks');
  await page.getByRole('button', { name: 'Create link' }).click();
  await page.getByLabel('Search by name, code or address').fill('Salt marsh walk');
  await expect(grid(page).getByRole('row')).toHaveCount(1);
  await expect(panel(page).getByRole('heading', { name: 'Salt marsh walk' })).toBeVisible();
  const address = (await panel(page)
    .getByText(/^HTTPS:\/\/GO\.MARRAMBAY\.EXAMPLE\//)
    .textContent())!;
  const code = /\/([2-9A-Z]{9})/.exec(address)![1]!;
  await expect(panel(page).getByText('25 squares')).toBeVisible();
  expect((await scanned(page, code)).headers().location).toBe('https://marrambay.example/walks');
  await panel(page).getByTitle('Where it leads').click();
  await page.getByLabel('Web address it leads to').fill('https://marrambay.example/walks/salt');
  await page.getByRole('button', { name: 'Change address' }).click();
  await expect(soft(page)).toContainText('1 link changed');
  expect((await scanned(page, code)).headers().location).toBe(
    'https://marrambay.example/walks/salt',
  );
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(soft(page)).toContainText('1 link undone');
  expect((await scanned(page, code)).headers().location).toBe('https://marrambay.example/walks');
  await panel(page).getByTitle('How long it works').click();
  await page.getByRole('button', { name: 'is paused' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(panel(page).getByText('paused').first()).toBeVisible();
  const paused = await scanned(page, code);
  expect([paused.status(), await paused.text()]).toEqual([
    404,
    expect.stringContaining('This link is paused'),
  ]);
  // typed small, with a hyphen lost, and looked at first
  const looked = await page.request.get(`/${code.toLowerCase()}/preview`);
  expect(looked.status()).toBe(404);
  await expect(panel(page).getByText('follows')).toHaveCount(0);
});

test('a printed sign leads elsewhere after printing, singly and for all ticked', async ({
  page,
}) => {
  await page.goto('/links');
  // a press on a page that does not listen yet is lost
  await expect(grid(page).getByRole('row').first()).toBeVisible();
  await page.getByTitle('List').click();
  await page.getByRole('option', { name: /Accessions/ }).click();
  const rows = grid(page).getByRole('row');
  await expect(rows.first()).toContainText(/localhost:\d+\/r\//);
  await rows.nth(0).getByRole('checkbox').check({ force: true });
  await rows.nth(1).getByRole('checkbox').check({ force: true });
  const bar = page.getByRole('region', { name: 'The ticked links' });
  await expect(bar).toContainText('2 links ticked');
  await bar.getByRole('button', { name: 'Change where they lead' }).click();
  await page.getByLabel('Web address it leads to').fill('https://marrambay.example/closed');
  await page.getByRole('button', { name: 'Change address' }).click();
  await expect(rows.nth(0)).toContainText('marrambay.example/closed');
  await expect(rows.nth(1)).toContainText('marrambay.example/closed');
  await expect(rows.nth(2)).toContainText(/localhost:\d+\/r\//);
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(rows.nth(0)).toContainText(/localhost:\d+\/r\//);
  await expect(rows.nth(1)).toContainText(/localhost:\d+\/r\//);
});

test('a stamp goes by links, says what that saves, and goes back to the address itself', async ({
  page,
}) => {
  await page.goto('/jobs');
  await page.getByRole('link', { name: 'Loan agreements', exact: true }).click();
  await page.keyboard.press('2');
  const way = page.getByTitle('With a link, or with the web address itself').first();
  await expect(way).toHaveText('the web address itself in the code');
  await way.click();
  await expect(page.getByText('with a link, same size of squares')).toBeVisible();
  await page.getByRole('button', { name: 'Use short links' }).click();
  await expect(way).toHaveText('through a short link');
  await expect(
    page.getByText(/HTTPS:\/\/GO\.MARRAMBAY\.EXAMPLE\/[2-9A-Z]{9}/).first(),
  ).toBeVisible();
  await way.click();
  await page.getByRole('button', { name: 'Put the web address itself into the code' }).click();
  await expect(page.getByText(/https:\/\/marrambay\.example\/loans\//).first()).toBeVisible();
});

test('the address of this Hand Stamp is changed in Settings, is in force at once, and its effect is told before', async ({
  page,
}) => {
  await page.goto('/settings');
  await page.getByTitle('Address of links').click();
  const field = page.getByLabel(/^Address of links, such as/);
  await field.fill('https://go.marrambay.example/with/a/path');
  await expect(page.getByText('without a path')).toBeVisible();
  await field.fill('https://way.marrambay.example');
  await expect(page.getByText(/links will use the new address/)).toBeVisible();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByTitle('Address of links')).toHaveText('https://way.marrambay.example');
  await page.goto('/jobs');
  await page.getByRole('link', { name: 'Bed signs', exact: true }).click();
  await page.keyboard.press('2');
  await expect(page.getByText(/HTTPS:\/\/WAY\.MARRAMBAY\.EXAMPLE\//).first()).toBeVisible();
  await page.goto('/settings');
  await page.getByTitle('Address of links').click();
  await field.fill('https://go.marrambay.example');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByTitle('Address of links')).toHaveText('https://go.marrambay.example');
});

test('axe finds nothing on the links, and what a stranger sees is plain and works on a phone', async ({
  page,
}) => {
  await page.goto('/links');
  await expect(grid(page).getByRole('row').first()).toBeVisible();
  await expect(panel(page).getByText('Scans a day')).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  const code = (await grid(page)
    .getByRole('row')
    .first()
    .getByText(/^[2-9A-Z]{4}-/)
    .textContent())!.replace('-', '');
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`/${code}/preview`);
  await expect(
    page.getByRole('heading', { name: 'This leads to marrambay.example' }),
  ).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.goto('/222222223');
  await expect(page.getByRole('heading')).toHaveText(
    /This link does not exist|The code is not right/,
  );
});

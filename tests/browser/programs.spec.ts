import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '../helpers/browser';

test('an app creates an accession, gets its code in the same answer, and hears what happens to it', async ({
  page,
  context,
}) => {
  await page.goto('/post-room');
  const address = (await page
    .getByRole('link', { name: 'The garden’s app' })
    .getAttribute('href'))!;
  const app = await context.newPage();
  await app.goto(address);
  await app.getByLabel('Accession').fill('2026.7001');
  await app.getByLabel('Plant').fill('Eryngium campestre');
  await app.getByLabel('Common name').fill('Field eryngo');
  await app.getByRole('button', { name: 'Create it' }).click();
  await expect(app.getByText(/HTTPS:\/\/GO\.MARRAMBAY\.EXAMPLE\/[2-9A-Z]{9}/)).toBeVisible();
  const picture = app.getByAltText('Code of Eryngium campestre');
  await expect
    .poll(() => picture.evaluate((img) => (img as HTMLImageElement).naturalWidth))
    .toBeGreaterThan(50);
  await expect
    .poll(
      async () => {
        await app.goto(address);
        return app.getByRole('list', { name: 'What it heard' }).textContent();
      },
      { timeout: 30_000 },
    )
    .toContain('record.came');
  await app.getByRole('link', { name: 'Its page' }).click();
  await expect(app.getByRole('heading', { level: 1 })).toHaveText('Field eryngo');
});

test('a key is made, shown once, and ended; a program is told what happens; axe finds nothing', async ({
  page,
}) => {
  await page.goto('/programs');
  await expect(page.getByText('The garden’s app, a stand-in').first()).toBeVisible();
  await page.getByRole('button', { name: 'New key' }).click();
  await page.getByLabel('Name of the program').fill('Label press');
  await page.getByRole('button', { name: 'Create key' }).click();
  const key = (await page.getByText(/^hsk_/).textContent())!;
  const asks = () =>
    page.request.get('/api/v1/jobs', { headers: { authorization: `Bearer ${key}` } });
  expect((await asks()).status()).toBe(200);
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await page.reload();
  await expect(page.getByText('Label press')).toBeVisible();
  await expect(page.getByText(key)).toHaveCount(0);
  await page.getByRole('button', { name: 'Revoke the key Label press' }).click();
  await page.getByRole('button', { name: 'Revoke key' }).click();
  await expect(page.getByText('Label press')).toHaveCount(0);
  expect((await asks()).status()).toBe(401);
});

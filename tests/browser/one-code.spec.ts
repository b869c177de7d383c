import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '../helpers/browser';
import { clean } from '../helpers/axe';
import { readAll } from '../helpers/barcode';
import { renderPdf } from '../helpers/poppler';

async function open(page: Page): Promise<void> {
  await page.goto('/code');
  await expect(page.getByText('correct, 31 characters')).toBeVisible();
}

async function save(page: Page, kind: string): Promise<Buffer> {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: kind, exact: true }).click(),
  ]);
  return readFileSync(await download.path());
}

test('a value of one’s own, saved in every kind of file, reads', async ({ page }) => {
  await open(page);
  await clean(page);
  await page.getByTitle('Shapes').click();
  await page.getByRole('button', { name: 'seed' }).click();
  await page.getByRole('button', { name: 'ring' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByText('drawn in seeds with ring finders')).toBeVisible();
  await expect(page.getByText('correct, 31 characters')).toBeVisible();
  const text = 'https://marrambay.example/visit';
  for (const kind of ['PNG', 'JPEG'])
    expect((await readAll(await save(page, kind)))[0]?.text).toBe(text);
  expect((await readAll(renderPdf(await save(page, 'PDF'), 300)[0]!))[0]?.text).toBe(text);
  expect((await save(page, 'SVG')).toString()).toContain('viewBox="0 0 37 37"');
  expect((await save(page, 'EPS')).toString()).toContain('%!PS-Adobe-3.0 EPSF-3.0');
});

test('a record of a job, another symbology, and what does not carry it', async ({ page }) => {
  await open(page);
  await page.getByTitle('Where the code comes from').click();
  await page.getByRole('option', { name: /^a record of Packet labels/ }).click();
  await page.getByTitle('The record').click();
  await page.getByLabel('Find by any of its words').fill('kale');
  await page.getByRole('option').first().click();
  await expect(page.getByText('correct, 13 characters')).toBeVisible();
  await page.getByRole('button', { name: 'GS1 DataBar', exact: true }).click();
  await expect(page.getByTitle('Code type (symbology)')).toHaveText('GS1 DataBar');
  await expect(page.getByText(/correct, 1[68] characters/)).toBeVisible();
  await page.getByTitle('Settings of this code type').click();
  await page.getByRole('button', { name: 'stacked omnidirectional' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByText(/correct, 1[68] characters/)).toBeVisible();
  // what does not fit says why
  await expect(page.getByText(/Micro QR code/)).toBeVisible();
  await expect(page.getByText(/EAN-8 has 8 digits with its check digit/)).toBeVisible();
  await expect(
    page.getByText('This changes only here. The job keeps its stamp as it is.'),
  ).toBeVisible();
});

test('two variants are held side by side and worn', async ({ page }) => {
  await open(page);
  await page.getByRole('button', { name: 'Keep for comparison' }).click();
  await page.getByTitle('Error correction').click();
  await page.getByRole('option', { name: /about 30% damaged/ }).click();
  await expect(page.getByText('version 4, level H')).toBeVisible();
  await page.getByRole('button', { name: 'Run the wear test' }).click();
  await expect(page.getByRole('button', { name: 'Run the wear test again' })).toBeVisible({
    timeout: 90_000,
  });
  const label = await page
    .getByRole('img', { name: /^covered from one corner/ })
    .getAttribute('aria-label');
  const [held, now] = /(\d+)% and (\d+)%/.exec(label!)!.slice(1).map(Number);
  expect(now).toBeGreaterThan(held!);
  await clean(page);
});

test('the large window follows the choice', async ({ page, context }) => {
  await open(page);
  const [large] = await Promise.all([
    context.waitForEvent('page'),
    page.getByRole('button', { name: 'Show large in its own window' }).click(),
  ]);
  await expect(large.getByRole('heading')).toHaveText('https://marrambay.example/visit');
  await page.getByTitle('What a scan does').click();
  await page.getByRole('option', { name: /^shows text/ }).click();
  await page.getByTitle('What the code says').click();
  await page.getByLabel('Text 1').fill('DH-0142');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(large.getByRole('heading')).toHaveText('DH-0142');
  await clean(large);
});

test('a contact, field by field, and by example from the record in hand', async ({ page }) => {
  await page.goto('/jobs');
  await page.getByRole('link', { name: 'Badges, open weekend' }).click();
  await expect(page.locator('#row-0')).toContainText('correct,');
  await page.getByTitle('What the code says').first().click();
  await page.getByRole('button', { name: 'Show one finished example instead' }).click();
  await page
    .locator('textarea')
    .fill('https://forms.example/f?id=DH-0142&name=Ines+Okafor-Lindqvist');
  await expect(
    page.getByText('With these columns, this record gives exactly your example.'),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Use these columns' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.locator('#row-1')).toContainText(
    /https:\/\/forms\.example\/f\?id=DH-0143&name=Tam\+Bellweather/,
  );
  await page.keyboard.press('Control+z');
  await expect(page.locator('#row-1')).toContainText('https://marrambay.example/v/');
  await page.getByTitle('What a scan does').first().click();
  await page.getByRole('option', { name: /^saves a contact/ }).click();
  await page.getByTitle('first name').click();
  await page.getByRole('button', { name: 'Name', exact: true }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.locator('#row-0')).toContainText('offer to save a contact');
  await expect(page.locator('#row-0')).toContainText('correct,');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  // other tests print these badges, so their content is restored
  await expect(page.locator('#row-1')).toContainText('https://marrambay.example/v/');
});

test('a logo is made safe, drawn and weighed against the error correction', async ({ page }) => {
  await open(page);
  await page.getByTitle('Pictures').click();
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><script>alert(1)</script><circle cx="5" cy="5" r="5" fill="#5736a3"/></svg>';
  const picker = page.getByLabel(/^Logo \(/);
  await picker.setInputFiles({
    name: 'mark.svg',
    mimeType: 'image/svg+xml',
    buffer: Buffer.from(svg),
  });
  await expect(page.getByLabel('leave out the squares under it')).toBeVisible();
  await page.getByLabel(/^Longer side/).fill('45');
  await page.keyboard.press('Tab');
  await expect(page.getByText(/it will not read/).first()).toBeVisible();
  await page.getByLabel(/^Longer side/).fill('15');
  await page.keyboard.press('Tab');
  await picker.setInputFiles({
    name: 'notes.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('no picture'),
  });
  await expect(
    page.getByText('notes.txt is not a PNG, JPEG or SVG picture. Choose another.'),
  ).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('correct, 31 characters')).toBeVisible();
  const saved = (await save(page, 'SVG')).toString();
  expect(saved).toContain('<image');
  expect(saved).not.toContain('script');
});

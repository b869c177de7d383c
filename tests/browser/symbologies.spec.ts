import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '../helpers/browser';
import { parse } from 'csv-parse/sync';
import { readAll } from '../helpers/barcode';
import { renderPdf } from '../helpers/poppler';

async function openJob(page: Page, name: string): Promise<void> {
  await page.goto('/jobs');
  await page.getByRole('link', { name }).click();
  await expect(page.locator('#row-0')).toContainText('correct,');
}

async function run(page: Page): Promise<{ pdf: Buffer; receipt: Record<string, string>[] }> {
  await page.keyboard.press('4');
  // earlier runs are below it
  const runs = page.getByRole('article', { name: /^Run / });
  const before = await runs.count();
  await page.getByRole('button', { name: /^Make \d/ }).click();
  await expect(runs).toHaveCount(before + 1);
  const newest = runs.first();
  await expect(newest.getByText(/all \d+ codes read back/)).toBeVisible({ timeout: 60_000 });
  const download = async (name: string) => {
    const [started] = await Promise.all([
      page.waitForEvent('download'),
      newest.getByRole('link', { name }).click(),
    ]);
    return readFileSync(await started.path());
  };
  const pdf = await download('PDF for print');
  return {
    pdf,
    receipt: parse(await download('Receipt, CSV'), { columns: true, bom: true }) as Record<
      string,
      string
    >[],
  };
}

test('packet labels carry their product numbers as EAN-13, and the wrong ones are kept back', async ({
  page,
}) => {
  await openJob(page, 'Packet labels');
  await expect(page.getByRole('button', { name: 'needs a look 2' })).toBeVisible();
  await page.getByRole('button', { name: 'needs a look 2' }).click();
  await expect(page.locator('#row-0')).toContainText(/The check digit is \d, but should be \d/);
  await page.getByRole('button', { name: 'all 60' }).click();
  const { pdf, receipt } = await run(page);
  expect(receipt).toHaveLength(58);
  const pages = renderPdf(pdf, 300);
  const found = (await Promise.all(pages.map((p) => readAll(p, { formats: ['EAN13'] }))))
    .flat()
    .map((r) => r.text);
  expect(found.sort()).toEqual(receipt.map((r) => r.Payload).sort());
});

test('asset tags are Data Matrix; another symbology is one choice away and says whom it would not fit', async ({
  page,
}) => {
  await openJob(page, 'Asset tags');
  const { pdf, receipt } = await run(page);
  const pages = renderPdf(pdf, 300);
  const found = (await Promise.all(pages.map((p) => readAll(p, { formats: ['DataMatrix'] }))))
    .flat()
    .map((r) => r.text);
  expect(found.sort()).toEqual(receipt.map((r) => r.Payload).sort());
  await page.keyboard.press('2');
  await page.getByTitle('Code type (symbology)').click();
  await expect(page.getByRole('option', { name: /^EAN-13, 240 do not fit/ })).toBeVisible();
  await page.getByRole('option', { name: /^Code 128, fits all/ }).click();
  await expect(page.locator('#row-0')).toContainText('correct, 8 characters');
  await expect(page.locator('#row-0')).toContainText('Code 128');
});

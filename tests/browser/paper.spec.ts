import { expect, test } from '@playwright/test';
import { clean } from '../helpers/axe';
import { renderPdf } from '../helpers/poppler';
import { asFile, bringIn, download } from '../helpers/screen';

test('a picture of a printed sheet says which codes read from the paper; what did not is ticked to be printed again', async ({
  page,
}) => {
  const rows = Array.from({ length: 30 }, (_, i) => `S-${100 + i},Sheet ${i}`);
  await bringIn(page, 'printed.csv', `No,Name\n${rows.join('\n')}\n`);
  await page.getByRole('button', { name: /^Run:/ }).click();
  await page.getByRole('button', { name: /^Make (these|this) / }).click();
  await expect(page.getByText('all 30 codes read back')).toBeVisible({ timeout: 60_000 });
  const [first] = renderPdf(await download(page, 'PDF for print'), 200, 'png');
  await page.getByRole('button', { name: 'Receipt, page by page' }).first().click();
  const receipt = page.getByRole('dialog');
  await receipt.locator('input[type=file]').setInputFiles(asFile('sheet.png', Buffer.from(first!)));
  await expect(receipt.getByText(/sheet\.png: \d+ codes of page 1\./)).toBeVisible({
    timeout: 60_000,
  });
  await expect(receipt.getByText(/Read from the paper: (\d+) of \1 on 1 page\./)).toBeVisible();
  await expect(receipt.getByText(/No picture shows page 2\./)).toBeVisible();
  await expect(receipt.getByRole('columnheader', { name: 'On paper' })).toBeVisible();
  await receipt
    .locator('input[type=file]')
    .setInputFiles(asFile('note.txt', Buffer.from('no picture')));
  await expect(receipt.getByRole('alert')).toContainText('note.txt is not a picture');
  await clean(page);
});

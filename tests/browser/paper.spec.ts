import { expect, test } from '../helpers/browser';
import { clean } from '../helpers/axe';
import { colourPng } from '../helpers/pictures';
import { renderPdf } from '../helpers/poppler';
import { asFile, bringIn, download } from '../helpers/screen';

test('a run goes to a stand-in, its sheets come back through the In-tray, and stand on the sheet in the Run band', async ({
  page,
}) => {
  const rows = Array.from({ length: 24 }, (_, i) => `T-${100 + i},Tray ${i}`);
  await bringIn(page, 'tray.csv', `No,Name\n${rows.join('\n')}\n`);
  const job = page.url();
  await page.getByRole('button', { name: /^Run:/ }).click();
  await page.getByRole('button', { name: /^Make \d/ }).click();
  await expect(page.getByText('all 24 codes read back')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Send to a printer' }).click();
  await page.getByRole('option', { name: 'Test printer for office paper' }).click();
  await expect(
    page.getByText('Sent to Test printer for office paper. See the Post room.'),
  ).toBeVisible();
  await page.goto('/post-room');
  const sent = page
    .getByRole('list', { name: 'Sent to Test printer for office paper' })
    .getByRole('listitem')
    .filter({ hasText: 'tray' })
    .first();
  await expect(sent.getByText('printed, 2 sheets')).toBeVisible({ timeout: 60_000 });
  const paper = page.getByRole('list', { name: 'Printed sheets' }).getByRole('listitem');
  await expect(
    paper.filter({ hasText: 'tray' }).filter({ hasText: /\d+( of \d+)? codes? of tray/i }),
  ).toHaveCount(2, { timeout: 90_000 });
  await clean(page);
  await page.goto(job);
  await page.getByRole('button', { name: /^Run:/ }).click();
  await page.getByRole('button', { name: 'what will be made' }).click();
  await page.getByRole('option', { name: /on paper/ }).click();
  await expect(
    page.getByRole('button', { name: /seat \d+: read from the paper$/ }).first(),
  ).toBeVisible();
  await expect(page.getByText(/\d+ pieces read from the paper/)).toBeVisible();
  await page.getByRole('button', { name: 'Next page' }).click();
  await expect(page.getByText('page 2 of 2')).toBeVisible();
  await clean(page);
});

test('how fine a printer prints is read from its printed test page', async ({ page }) => {
  await page.goto('/post-room');
  const href = await page.getByRole('link', { name: 'Test page' }).first().getAttribute('href');
  const pdf = await (await page.request.get(href!)).body();
  const [sheet] = renderPdf(pdf, 300, 'png');
  const part = page.getByRole('button', { name: /finest square|squares from/ }).first();
  await part.click();
  const choose = page.getByRole('dialog').locator('input[type=file]');
  await choose.setInputFiles(asFile('page.png', Buffer.from(sheet!)));
  await expect(page.getByText(/squares from \d+ dots?, 0\.\d\d mm, read/).first()).toBeVisible({
    timeout: 30_000,
  });
  await choose.setInputFiles(asFile('nothing.png', colourPng([255, 255, 255])));
  await expect(page.getByText(/does not read on this picture/)).toBeVisible();
});

test('a printer at an address is asked, and why it is not reached stands with it', async ({
  page,
}) => {
  await page.goto('/post-room');
  await page.getByRole('button', { name: 'Add a printer' }).click();
  const editor = page.getByRole('dialog');
  await editor.getByLabel('Name').fill('Shed printer');
  await editor.getByLabel('Address').fill('printer in the shed');
  await editor.getByRole('button', { name: 'Add printer' }).click();
  await expect(page.getByText(/^Enter the address that the printer shows/)).toBeVisible();
  await page.getByRole('button', { name: 'Add a printer' }).click();
  await editor.getByLabel('Address').fill('ipp://127.0.0.1:9/ipp/print');
  await editor.getByRole('button', { name: 'Add printer' }).click();
  await expect(page.getByText('No details from this printer yet')).toBeVisible();
  await expect(page.getByText(/This address is not public|it does not answer/)).toBeVisible();
  await clean(page);
  await page.getByRole('button', { name: 'Remove printer' }).click();
  await expect(page.getByText('Shed printer')).toHaveCount(0);
});

test('a picture of a printed sheet says which codes read from the paper; what did not is ticked to be printed again', async ({
  page,
}) => {
  const rows = Array.from({ length: 30 }, (_, i) => `S-${100 + i},Sheet ${i}`);
  await bringIn(page, 'printed.csv', `No,Name\n${rows.join('\n')}\n`);
  await page.getByRole('button', { name: /^Run:/ }).click();
  await page.getByRole('button', { name: /^Make \d/ }).click();
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
  await expect(receipt.getByRole('alert')).toContainText('note.txt is not a PDF or a picture');
  await clean(page);
});

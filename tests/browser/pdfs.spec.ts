import { expect, test } from '../helpers/browser';
import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync, zipSync } from 'fflate';
import { clean } from '../helpers/axe';
import { readAll } from '../helpers/barcode';
import { renderPdf } from '../helpers/poppler';
import { asFile, bringIn } from '../helpers/screen';

const locked = readFileSync('demo/agreements/agreement LN-2026-011.pdf');
const list = 'Loan,Borrower\nL-0007,Odile Fenwick\nL-0008,Teo Brandt\nL-0009,Saltmarsh School\n';
async function letter(words: string): Promise<Buffer> {
  const document = await PDFDocument.create();
  const font = await document.embedFont(StandardFonts.Helvetica);
  document.addPage([420, 595]).drawText(words, { x: 60, y: 400, size: 12, font });
  return Buffer.from(await document.save());
}

test('PDFs that exist find their records, the code is pulled to its place, and each is taken away under its name', async ({
  page,
}) => {
  await bringIn(page, 'signed-loans.csv', list);
  await page.keyboard.press('3');
  await page.getByRole('button', { name: 'label stock', exact: true }).click();
  await page.getByRole('option', { name: /PDFs that exist/ }).click();
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Choose PDFs' }).click();
  const zip = zipSync({
    'folder/agreement L-0007.pdf': new Uint8Array(await letter('Odile')),
    'notes.txt': new Uint8Array([1]),
  });
  await (
    await chooser
  ).setFiles([
    asFile('some.zip', Buffer.from(zip)),
    asFile('loan l0008.pdf', await letter('Teo')),
    asFile('scan-0231.pdf', await letter('This one is that of loan L-0009.')),
    asFile('broken.pdf', '%PDF-1.7 nothing'),
    asFile('loan l0010.pdf', locked),
  ]);
  // the unusable ones are reported, the others are added
  await expect(page.getByText('broken.pdf: This PDF is damaged.')).toBeVisible();
  await expect(page.getByText('3 PDFs are here, 2 are not:')).toBeVisible();
  await page.getByLabel('Password of the PDF').fill('wrong');
  await page.getByRole('button', { name: 'Open 1 locked PDF' }).click();
  await expect(page.getByText('the password is wrong')).toBeVisible();
  await clean(page);
  await page.getByLabel('Password of the PDF').fill('dune house');
  await page.getByRole('button', { name: 'Open 1 locked PDF' }).click();
  const sentence = page.locator('.whole');
  await expect(sentence).toContainText(
    'On 5 PDFs (4 PDFs), each known by Loan in its file name: the code of',
  );
  await expect(page.getByRole('img', { name: 'Page 1 of agreement L-0007.pdf' })).toBeVisible();
  await clean(page);
  // all but one are found by their text; that one is assigned by hand
  await page.getByText('scan-0231.pdf').waitFor();
  await page.keyboard.press('Escape');
  await page.getByRole('grid').focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText('No PDF matches the selected record.')).toBeVisible();
  await page
    .getByRole('listitem')
    .filter({ hasText: 'scan-0231.pdf' })
    .getByRole('button', { name: 'Assign to the selected record' })
    .click();
  await expect(page.getByRole('img', { name: 'Page 1 of scan-0231.pdf' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Without a record: 1' })).toBeVisible();
  // pulled to another corner
  const code = page.getByTitle('Drag the code to its place');
  const from = (await code.boundingBox())!;
  const paper = (await page.getByRole('img', { name: /^Page 1 of/ }).boundingBox())!;
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(paper.x + 30, paper.y + 30, { steps: 5 });
  await page.mouse.up();
  await expect(sentence).toContainText('top left');
  await page.keyboard.press('4');
  await page.getByRole('button', { name: 'Make 3 PDFs' }).click();
  await expect(page.getByText('all 3 codes read back')).toBeVisible({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: /^ZIP/ }).click();
  const files = Object.entries(unzipSync(readFileSync(await (await download).path()))).filter(
    ([name]) => name.endsWith('.pdf'),
  );
  expect(files.map(([name]) => name.replace(/^.*\//, '')).sort()).toEqual([
    'agreement L-0007.pdf',
    'loan l0008.pdf',
    'scan-0231.pdf',
  ]);
  for (const [name, bytes] of files) {
    const read = (await readAll(renderPdf(bytes, 300)[0]!)).map((r) => r.text);
    expect(read, name).toHaveLength(1);
    expect(['L-0007', 'L-0008', 'L-0009']).toContain(read[0]);
  }
});

test('a whole folder of PDFs is taken, with the folders in it', async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-folder-'));
  mkdirSync(join(folder, 'old'));
  writeFileSync(join(folder, 'agreement L-0007.pdf'), await letter('Odile'));
  writeFileSync(join(folder, '._agreement L-0007.pdf'), 'beside it');
  writeFileSync(join(folder, 'old', 'agreement L-0008.pdf'), await letter('Teo'));
  writeFileSync(join(folder, 'old', 'notes.txt'), 'x');
  await bringIn(page, 'folder-loans.csv', list);
  await page.keyboard.press('3');
  await page.getByRole('button', { name: 'label stock', exact: true }).click();
  await page.getByRole('option', { name: /PDFs that exist/ }).click();
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Choose a folder' }).click();
  await (await chooser).setFiles(folder);
  await expect(page.locator('.whole')).toContainText('On 2 PDFs (2 PDFs), each known by Loan');
  await expect(page.getByRole('img', { name: 'Page 1 of agreement L-0007.pdf' })).toBeVisible();
  await expect(page.getByText('1 record has no PDF.')).toBeVisible();
  rmSync(folder, { recursive: true });
});

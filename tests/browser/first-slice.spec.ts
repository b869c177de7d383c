import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '../helpers/browser';
import { clean } from '../helpers/axe';
import { readAll } from '../helpers/barcode';
import { pdfText, renderPdf } from '../helpers/poppler';
import { asFile, bringIn, row } from '../helpers/screen';

async function choose(page: Page, name: string, content: string | Buffer): Promise<void> {
  await page.goto('/bring-in');
  await page.locator('input[type=file]').setInputFiles(asFile(name, content));
}

test('a spreadsheet in, scannable labels out', async ({ page }) => {
  const count = 45;
  const rows = Array.from({ length: count }, (_, i) => [
    `00${String(100 + i)}`,
    i === 3 ? 'Søren Ågård' : `Lamp ${i + 1}`,
    `20004110${String(i).padStart(5, '0')}`,
  ]);
  rows[7]![0] = '';
  // semicolons and Windows-1252, as a spreadsheet program elsewhere in Europe saves it
  const csv = Buffer.from(
    ['Tag;Item;Long number', ...rows.map((r) => r.join(';'))].join('\r\n'),
    'latin1',
  );

  await choose(page, 'lamps.csv', csv);
  await expect(page.getByText('text with semicolons, in Windows-1252')).toBeVisible();
  await expect(page.getByRole('cell', { name: '00100', exact: true })).toBeVisible();
  await clean(page);
  await page.getByRole('button', { name: 'Bring in 45 records' }).click();
  await page.waitForURL(/\/jobs\/\d+/);

  await expect(page.getByRole('heading', { name: 'lamps' })).toBeVisible();
  await expect(row(page, 0)).toContainText('correct, 5 characters');
  await expect(row(page, 7)).toContainText('no code: Tag is blank');
  await expect(row(page, 7).locator('[data-open] svg[shape-rendering]')).toHaveCount(0);

  // editing the value changes the code at once; a filled blank gets its code
  await page.getByRole('button', { name: /^Records:/ }).click();
  await row(page, 7).locator('[data-look]').first().dblclick();
  await page.keyboard.type('00999');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /^Stamps:/ }).click();
  await expect(row(page, 7)).toContainText('correct, 5 characters');
  await expect(page.getByRole('button', { name: 'ready 45' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(row(page, 7)).toContainText('no code: Tag is blank');
  await page.keyboard.press('Control+y');
  await expect(page.getByRole('button', { name: 'ready 45' })).toBeVisible();

  // from place 5 of a started sheet
  await page.getByRole('button', { name: /^Piece:/ }).click();
  await page.getByTitle('First seat').click();
  await page.getByRole('button', { name: 'Seat 5', exact: true }).click();
  await expect(page.getByText('seat 5')).toBeVisible();

  await page.getByRole('button', { name: /^Run:/ }).click();
  await page.getByRole('button', { name: /^Make \d/ }).click();
  await expect(page.getByText('all 45 codes read back')).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('45 pieces on 3 sheets').last()).toBeVisible();

  const download = async (name: string) => {
    const [started] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name }).click(),
    ]);
    return readFileSync(await started.path());
  };
  const pdf = await download('PDF for print');
  const pages = renderPdf(pdf, 200);
  expect(pages).toHaveLength(3);
  const found = (await Promise.all(pages.map((p) => readAll(p, { formats: ['QRCode'] }))))
    .flat()
    .map((r) => r.text);
  rows[7]![0] = '00999';
  expect(found.sort()).toEqual(rows.map((r) => r[0]).sort());
  expect(pdfText(pdf)).toContain('Søren Ågård');

  const receipt = (await download('Receipt, CSV')).toString('utf8');
  expect(receipt).toContain('1,Lamp 1,00100,Tag,00100,1,5,correct,00100');
  expect(receipt.trim().split('\n')).toHaveLength(46);
  await expect(row(page, 40)).toBeHidden();
  await row(page, 2).getByText('Lamp 3', { exact: true }).click();
  await page.keyboard.press('2');
  await expect(row(page, 2)).toContainText('p 1');
});

test('the first screen is the volunteers’ job; every band opens, by mouse and by key, and axe finds nothing', async ({
  page,
}) => {
  await page.goto('/');
  await page.goto('/jobs');
  await clean(page);
  await page.getByRole('link', { name: 'Badges, open weekend' }).click();
  await expect(row(page, 0)).toContainText('correct,');
  await clean(page);
  for (const [key, text] of [
    ['1', 'key:'],
    ['3', 'Select anything'],
    ['4', 'Every code is read back'],
    ['2', 'A scan'],
  ] as const) {
    await page.keyboard.press(key);
    await expect(page.getByText(text).first()).toBeVisible();
    await clean(page);
  }
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(row(page, 2)).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Space');
  const loupe = page.getByRole('dialog');
  await expect(loupe).toContainText('Test scan of the finished piece');
  await expect(loupe).toContainText(/correct, \d+ characters/);
  await expect(loupe).toContainText('open a page on marrambay.example');
  await clean(page);
  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('open the loupe');
});

test('the content of a stamp is text and columns; what does not fit says so on its row', async ({
  page,
}) => {
  await bringIn(
    page,
    'beds.csv',
    `Bed,Plant,Story\nA1,Sea kale,short\nA2,Thrift,${'x'.repeat(5000)}\n`,
  );
  await page.getByTitle('What the code says').click();
  await page.getByRole('button', { name: 'Remove Bed' }).click();
  await page.getByLabel('Text 1').fill('Bed ');
  const editor = page.getByRole('dialog');
  await editor.getByRole('button', { name: 'Bed', exact: true }).click();
  await page.getByLabel('Text 2').fill(': ');
  await editor.getByRole('button', { name: 'Story' }).click();
  await expect(page.getByText('Bed A1: short')).toBeVisible();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(editor).toHaveCount(0);
  await expect(row(page, 0)).toContainText('Bed A1: short');
  await expect(row(page, 1)).toContainText('Too long: 5,008 characters');
  await expect(page.getByRole('button', { name: 'needs a look 1' })).toBeVisible();
  // the size of the code, by its sentence
  await page.getByTitle('Size', { exact: true }).click();
  await page.getByLabel('Width with its quiet zone, at most, mm').fill('15');
  await page.keyboard.press('Tab');
  await expect(page.getByText(/this is 1[34]\.\d mm/)).toBeVisible();
});

test('the piece is changed on itself: words run over, and the mend that is offered works', async ({
  page,
}) => {
  await bringIn(
    page,
    'names.csv',
    'No,Name\n1,Tam\n2,Bartholomew Winter of Long Strand and Eelmouth upon the Water by the Old Harbour\n',
  );
  await expect(page.getByRole('button', { name: 'needs a look 1' })).toBeVisible();
  await page.keyboard.press('3');
  await page.getByRole('button', { name: 'needs a look: 1', exact: true }).click();
  await expect(row(page, 1)).toHaveAttribute('aria-selected', 'true');
  const words = page.getByRole('button', { name: /^Text at .*runs over/ });
  await words.click();
  const where = await words.boundingBox();
  for (
    let tries = 0;
    tries < 4 && (await page.getByRole('button', { name: /^Use \d lines/ }).isVisible());
    tries++
  ) {
    const mend = page.getByRole('button', { name: /^Use \d lines/ });
    const offered = await mend.textContent();
    await mend.click();
    await expect
      .poll(async () => ((await mend.isVisible()) ? mend.textContent() : 'mended'))
      .not.toBe(offered);
  }
  await expect(page.getByRole('button', { name: 'ready 2' })).toBeVisible();
  // dragging moves it in tenths of a millimetre
  const name = page.getByRole('button', { name: /^Text at 4, 8.4/ });
  await name.hover({ position: { x: 10, y: 10 } });
  await page.mouse.down();
  await page.mouse.move((where?.x ?? 0) + 40, (where?.y ?? 0) + 12, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: /^Text at 4, 8.4/ })).toHaveCount(0);
});

test('files that are no list say so in words, and the next one is taken', async ({ page }) => {
  const cases: [string, string | Buffer, RegExp][] = [
    ['letter.pdf', '%PDF-1.7\n1 0 obj', /letter\.pdf is a PDF document, not a spreadsheet/],
    ['empty.csv', '', /empty\.csv is empty/],
    ['blank.csv', ' , \n , \n', /no filled cells/],
    [
      'broken.xlsx',
      Buffer.concat([Buffer.from('PK\x03\x04'), Buffer.alloc(200, 7)]),
      /damaged|ZIP file/,
    ],
    ['large.csv', Buffer.alloc(45 * 1024 * 1024, 'a,b\n'), /45 MB; the most is 40 MB/],
  ];
  for (const [name, content, says] of cases) {
    await choose(page, name, content);
    await expect(page.getByRole('status')).toContainText(says, { timeout: 20_000 });
  }
  await page.getByRole('button', { name: /^A paste/ }).click();
  await page.getByRole('textbox').fill('Key\tName\n1\tOne\n2\tTwo');
  await page.getByRole('button', { name: 'Read pasted rows' }).click();
  await expect(page.getByRole('button', { name: 'Bring in 2 records' })).toBeVisible();
});

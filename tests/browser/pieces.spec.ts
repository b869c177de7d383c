import { unzipSync } from 'fflate';
import { expect, test, type Page } from '../helpers/browser';
import { clean } from '../helpers/axe';
import { readAll } from '../helpers/barcode';
import { readBook } from '../../src/server/sources/files/book';
import { renderPdf } from '../helpers/poppler';
import { bringIn, download, row } from '../helpers/screen';

async function runIt(page: Page, says: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: /^Make \d/ }).click();
  await expect(page.getByRole('article').first().getByText(says)).toBeVisible({ timeout: 80_000 });
}
const openJob = async (page: Page, name: string) => {
  await page.goto('/jobs');
  await page.getByRole('link', { name, exact: true }).click();
  await expect(row(page, 0)).toContainText('correct,', { timeout: 15_000 });
};
const codesIn = async (pdf: Buffer, dpi = 200) =>
  (await Promise.all(renderPdf(pdf, dpi).map((p) => readAll(p)))).flat().map((c) => c.text);

test('a piece is designed on itself: designs, boxes, rules, sides, drawn to one another, undone', async ({
  page,
}) => {
  await bringIn(page, 'people.csv', 'No,Name,Role\n1,Ines Bell,Guide\n2,Tam Ashdown,Steward\n');
  await expect(row(page, 0)).toContainText('correct,');
  await page.keyboard.press('3');
  await page.getByTitle('Start from a design').click();
  await expect(page.getByRole('dialog')).toContainText('Postcard, two sides');
  await expect(page.getByRole('dialog').locator('svg g > *').first()).toBeAttached();
  await clean(page);
  await page.getByRole('button', { name: 'Start from Badge' }).click();
  await expect(page.getByTitle('Label stock')).toHaveText('A4 sheets of 10, 90 × 54 mm');
  await page.getByTitle('Add an element').click();
  await page.getByRole('option', { name: 'a box' }).click();
  // the new element is selected, and its position is in the sentence
  await page.getByTitle('Position', { exact: true }).click();
  for (const edge of ['left', 'top']) {
    await page.getByLabel(`From the ${edge}, mm`).fill('4');
    await page.keyboard.press('Enter');
  }
  await page.keyboard.press('Escape');
  const box = page.getByRole('button', { name: /^Box at 4, 4/ });
  await box.click();
  await expect(page.getByText(/A box, .*40 × 20 mm.*not filled/)).toBeVisible();
  await clean(page);
  // near the left edge of the name it is drawn to it
  const at = (await box.boundingBox())!;
  await page.mouse.move(at.x + at.width / 2, at.y + 3);
  await page.mouse.down();
  await page.mouse.move(at.x + at.width / 2 + 10, at.y + 4, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: /^Box at 6, / })).toBeVisible();
  await page.getByRole('button', { name: 'Lock position' }).click();
  await expect(page.getByRole('button', { name: 'Unlock' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Lock position' })).toBeVisible();
  await page.getByTitle('Move to', { exact: true }).click();
  await page.getByRole('option', { name: 'to the bottom' }).click();
  await expect(page.getByRole('button', { name: /^Box at 6, 31/ })).toBeVisible();
  await page.getByRole('button', { name: 'all records' }).click();
  await expect(page.getByRole('button', { name: /^Piece of Tam Ashdown/ })).toBeVisible();
  await page.getByRole('button', { name: /^Piece of Tam Ashdown/ }).click();
  await expect(row(page, 1)).toHaveAttribute('aria-selected', 'true');
  // measures of one's own: what does not fit the sheet is refused
  await page.getByTitle('Label stock').click();
  await page.getByRole('button', { name: 'Your own measures' }).click();
  const editor = page.getByRole('dialog');
  await editor.getByLabel('Columns').fill('3');
  await page.keyboard.press('Tab');
  await expect(editor).toContainText('The last column goes over the edge of the sheet by');
  await expect(editor.getByRole('button', { name: 'Apply' })).toBeDisabled();
  await editor.getByLabel('Columns').fill('1');
  await page.keyboard.press('Tab');
  await clean(page);
  await editor.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByTitle('Label stock')).toHaveText('sheets of 5, 90 × 54 mm');
});

test('several things are lined up and moved together; a stamp is made from the piece', async ({
  page,
}) => {
  await bringIn(page, 'signs.csv', 'No,Name\n1,Dune House\n2,Salt Meadow\n');
  await page.keyboard.press('3');
  const words = page.getByRole('button', { name: /^Text at/ });
  const code = page.getByRole('button', { name: /^Code at/ });
  await expect(words).toHaveCount(2);
  const at = async (thing: typeof code) =>
    (await thing.getAttribute('aria-label'))!
      .match(/at ([\d.]+), ([\d.]+) mm/)!
      .slice(1)
      .map(Number);
  await words.nth(0).click();
  await code.click({ modifiers: ['Shift'] });
  const tools = page.getByRole('region', { name: 'Selected' });
  await expect(tools).toContainText('2 elements are selected');
  await clean(page);
  await tools.getByTitle('Align').click();
  await page.getByRole('option', { name: 'at their tops' }).click();
  await expect.poll(async () => (await at(code))[1]).toBeCloseTo((await at(words.nth(0)))[1]!, 0);
  const [before, other] = [await at(code), await at(words.nth(1))];
  await code.focus();
  await page.keyboard.press('Alt+Shift+ArrowDown');
  await expect.poll(async () => (await at(code))[1]).toBeCloseTo(before[1]! + 1);
  expect(await at(words.nth(1))).toEqual(other);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await at(code))[1]).toBeCloseTo(before[1]!);
  await tools.getByRole('button', { name: 'Select none' }).click();
  // a code of another kind: the stamp is made, placed, and changed from here
  await page.getByTitle('Add an element').click();
  await page.getByRole('option', { name: /^a code with a new stamp/ }).click();
  await expect(code).toHaveCount(2);
  await code.nth(1).click();
  await tools.getByTitle('Edit stamp').click();
  await page.getByRole('dialog').getByTitle('Code type (symbology)').click();
  await page.getByRole('option', { name: /^Data Matrix, fits/ }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('2');
  await expect(page.getByTitle('Code type (symbology)').last()).toHaveText('Data Matrix');
});

test('the proof shows backs, marks for cutting, the chosen records and why others are left out; the receipt stands page by page', async ({
  page,
}) => {
  await bringIn(page, 'cards.csv', 'No,Name\n1,Ines Bell\n2,Tam Ashdown\n,Odalys Fenn\n');
  await page.keyboard.press('3');
  await page.getByTitle('Start from a design').click();
  await page.getByRole('button', { name: 'Start from Postcard, two sides' }).click();
  await page.keyboard.press('4');
  await expect(page.getByText('front of sheet 1 of 2')).toBeVisible();
  await page.getByRole('button', { name: 'Next page' }).click();
  await expect(page.getByText('back of sheet 1 of 2')).toBeVisible();
  await page.getByTitle('What is left out, and why').click();
  await expect(page.getByRole('dialog')).toContainText('No is blank');
  await expect(page.getByRole('dialog').getByRole('button', { name: 'Odalys Fenn' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByTitle('Cut marks').click();
  await page.getByRole('option', { name: /^with cut marks/ }).click();
  await clean(page);
  await runIt(page, 'all 2 codes read back');
  await page.getByRole('button', { name: 'Receipt, page by page' }).first().click();
  const receipt = page.getByRole('dialog');
  await expect(receipt.getByRole('row', { name: /Ines Bell/ })).toContainText('correct');
  await receipt
    .getByRole('button', { name: /all 1 read/ })
    .last()
    .click();
  await expect(receipt.getByRole('row', { name: /Tam Ashdown/ })).toBeVisible();
  await clean(page);
  await receipt.getByRole('checkbox', { name: 'Print Tam Ashdown again' }).press('Space');
  await receipt.getByTitle('Print the ticked ones again').click();
  await page
    .getByRole('button', { name: /^Seat 1/ })
    .first()
    .click();
  await expect(page.getByRole('article').first()).toContainText('1 again', { timeout: 20_000 });
  await expect(page.getByRole('article').first().getByText('1 code read back')).toBeVisible({
    timeout: 40_000,
  });
});

test('1,200 bed signs from the database: one PDF, every page its own code, as the list says', async ({
  page,
}) => {
  test.setTimeout(240_000);
  await openJob(page, 'Bed signs');
  await page.keyboard.press('4');
  const ready = Number(
    (await page
      .getByRole('button', { name: /^Run: [\d,]+ ready/ })
      .getAttribute('aria-label'))!.replace(/\D/g, ''),
  );
  expect(ready).toBeGreaterThan(1100);
  await page.getByRole('button', { name: /^Make \d/ }).click();
  await expect(
    page
      .getByRole('article')
      .first()
      .getByText(`all ${ready.toLocaleString('en')} codes read back`),
  ).toBeVisible({ timeout: 150_000 });
  const codes = await codesIn(await download(page, 'PDF for print'), 72);
  const receipt = (await download(page, 'Receipt, CSV')).toString();
  expect(codes).toHaveLength(ready);
  expect(new Set(codes).size).toBe(ready);
  for (const code of codes) expect(receipt).toContain(`,${code},`);
});

test('badges with two stamps, one of them secret: every code in the PDF is its record’s, and the receipt shows no secret', async ({
  page,
}) => {
  await openJob(page, 'Badges, open weekend');
  await page.keyboard.press('4');
  await runIt(page, 'all 356 codes read back');
  const codes = await codesIn(await download(page, 'PDF for print'), 250);
  expect(codes).toHaveLength(356);
  expect(codes.filter((c) => c.startsWith('https://marrambay.example/v/'))).toHaveLength(178);
  const receipt = (await download(page, 'Receipt, CSV')).toString();
  expect(receipt).toContain('Steward pass,••••••');
  expect(receipt).not.toMatch(/\?t=[a-z0-9]/);
  const json = JSON.parse((await download(page, 'JSON')).toString()) as {
    lines: unknown[];
    read: number;
  };
  expect([json.lines.length, json.read]).toEqual([356, 356]);
});

test('two-sided postcards, asset tags and packet labels are made and read', async ({ page }) => {
  test.setTimeout(240_000);
  for (const [job, codes, sheets] of [
    ['Postcards to friends', 399, 399],
    ['Asset tags', 237, 12],
    ['Packet labels', 58, 3],
  ] as const) {
    await openJob(page, job);
    await page.keyboard.press('4');
    await runIt(page, `all ${codes} codes read back`);
    const pdf = await download(page, 'PDF for print');
    const pages = renderPdf(pdf, job.startsWith('Postcards') ? 90 : 300);
    expect(pages).toHaveLength(job.startsWith('Postcards') ? sheets * 2 : sheets);
    expect(
      new Set((await Promise.all(pages.map((p) => readAll(p)))).flat().map((c) => c.text)).size,
    ).toBe(codes);
  }
});

test('a run is told in one sentence: pictures named from a column, the list with its codes, what is new and what changed', async ({
  page,
}) => {
  // several runs, a print and axe on five pages, one after the other
  test.slow();
  await bringIn(page, 'stalls.csv', 'No,Name\n11,Seed stall\n12,Tea / cake\n13,Plant sale\n');
  await expect(row(page, 0)).toContainText('correct,');
  await page.keyboard.press('4');
  await page.getByTitle('What is made').click();
  await page.getByRole('option', { name: /^a picture of each code/ }).click();
  await page.getByTitle('How files are named').click();
  await page.getByRole('option', { name: 'Name', exact: true }).click();
  await clean(page);
  await runIt(page, 'all 3 codes read back');
  const files = unzipSync(await download(page, /^ZIP/));
  const png = Object.keys(files).find((n) => n.endsWith('/Tea - cake.png'))!;
  expect((await readAll(files[png]!))[0]!.text).toBe('12');
  await page.getByTitle('What is made').click();
  await page.getByRole('option', { name: /^the list as XLSX/ }).click();
  await runIt(page, 'all 3 codes read back');
  await expect(page.getByRole('link', { name: /^XLSX/ })).toBeVisible({ timeout: 30_000 });
  expect(
    readBook('out.xlsx', await download(page, /^XLSX/)).sheets[0]!.rows[1]!.slice(0, 2),
  ).toEqual(['11', 'Seed stall']);
  // printed, then one changed: only that one is made again
  await page.getByTitle('What is made').click();
  await page.getByRole('option', { name: /^one PDF for print/ }).click();
  await runIt(page, 'all 3 codes read back');
  await page.keyboard.press('1');
  await row(page, 1).getByText('Tea / cake', { exact: true }).last().dblclick();
  await page.keyboard.type('Tea and cake');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'changed since 1' })).toBeVisible();
  // keys are shortcuts again
  await page.keyboard.press('Escape');
  await page.keyboard.press('4');
  await page.getByTitle('Which records').click();
  await page.getByRole('option', { name: 'the 1 changed since they were printed' }).click();
  await runIt(page, '1 code read back');
  // side by side with an earlier one, and off to a printer
  await page.getByTitle('Compare with another run').first().click();
  await expect(page.getByRole('dialog')).toContainText('records are in both');
  await page.keyboard.press('Escape');
  await page.getByTitle('Send to a printer').first().click();
  await page.getByRole('option', { name: /^Test printer for office paper/ }).click();
  await expect(page.getByText(/Sent to Test printer for office paper/)).toBeVisible();
  await clean(page);
  await page.goto('/post-room');
  await expect(
    page.getByRole('list', { name: 'Sent to Test printer for office paper' }),
  ).toContainText(/printed, 1 sheet/, {
    timeout: 15_000,
  });
  await expect(page.getByRole('list', { name: 'Notices' })).toContainText('is done');
  await clean(page);
  await page.goto('/lists');
  await expect(page.getByRole('link', { name: 'stalls' }).first()).toBeVisible();
  await clean(page);
  await page.goto('/settings');
  await expect(page.getByText('public servers only')).toBeVisible();
  await clean(page);
});

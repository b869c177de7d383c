import { unzipSync } from 'fflate';
import { expect, test, type Page } from '@playwright/test';
import { clean } from '../helpers/axe';
import { readAll } from '../helpers/barcode';
import { readBook } from '../../src/server/intake/book';
import { renderPdf } from '../helpers/poppler';
import { bringIn, download, row } from '../helpers/screen';

async function runIt(page: Page, says: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: 'Run it' }).click();
  await expect(page.getByRole('article').first().getByText(says)).toBeVisible({ timeout: 80_000 });
}
const openJob = async (page: Page, name: string) => {
  await page.goto('/jobs');
  await page.getByRole('link', { name, exact: true }).click();
  await expect(row(page, 0)).toContainText('the same,', { timeout: 15_000 });
};
const codesIn = async (pdf: Buffer, dpi = 200) => (await Promise.all(renderPdf(pdf, dpi).map((p) => readAll(p)))).flat().map((c) => c.text);

test('a piece is designed on itself: designs, boxes, rules, sides, drawn to one another, undone', async ({ page }) => {
  await bringIn(page, 'people.csv', 'No,Name,Role\n1,Ines Bell,Guide\n2,Tam Ashdown,Steward\n');
  await expect(row(page, 0)).toContainText('the same,');
  await page.keyboard.press('3');
  await page.getByTitle('Begin with a design').click();
  await expect(page.getByRole('dialog')).toContainText('Postcard, two sides');
  await page.waitForTimeout(500);
  await clean(page);
  await page.getByRole('button', { name: 'Begin with Badge' }).click();
  await expect(page.getByTitle('Label stock')).toHaveText('A4 sheets of 10, 90 × 54 mm');
  await page.getByTitle('Place something').click();
  await page.getByRole('option', { name: 'a box' }).click();
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
  await page.getByRole('button', { name: 'Hold fast' }).click();
  await expect(page.getByRole('button', { name: 'Let go' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Hold fast' })).toBeVisible();
  await page.getByTitle('Put it', { exact: true }).click();
  await page.getByRole('option', { name: 'to the bottom' }).click();
  await expect(page.getByRole('button', { name: /^Box at 6, 31/ })).toBeVisible();
  await page.getByRole('button', { name: 'all records' }).click();
  await expect(page.getByRole('button', { name: /^Piece of Tam Ashdown/ })).toBeVisible();
  await page.getByRole('button', { name: /^Piece of Tam Ashdown/ }).click();
  await expect(row(page, 1)).toHaveAttribute('aria-selected', 'true');
  // measures of one's own: what does not fit the sheet is refused
  await page.getByTitle('Label stock').click();
  await page.getByRole('button', { name: 'Measures of your own' }).click();
  const editor = page.getByRole('dialog');
  await editor.getByLabel('Columns').fill('3');
  await page.keyboard.press('Tab');
  await expect(editor).toContainText('The last column goes over the edge of the sheet by');
  await expect(editor.getByRole('button', { name: 'Use these measures' })).toBeDisabled();
  await editor.getByLabel('Columns').fill('1');
  await page.keyboard.press('Tab');
  await clean(page);
  await editor.getByRole('button', { name: 'Use these measures' }).click();
  await expect(page.getByTitle('Label stock')).toHaveText('sheets of 5, 90 × 54 mm');
});

test('badges with two stamps, one of them secret: every code in the PDF is its record’s, and the receipt shows no secret', async ({
  page,
}) => {
  await openJob(page, 'Badges, open weekend');
  await page.keyboard.press('4');
  await runIt(page, 'all 354 codes read back');
  const codes = await codesIn(await download(page, 'PDF for print'), 250);
  expect(codes).toHaveLength(354);
  expect(codes.filter((c) => c.startsWith('https://marrambay.example/v/'))).toHaveLength(177);
  const receipt = (await download(page, 'Receipt, CSV')).toString();
  expect(receipt).toContain('Steward pass,••••••');
  expect(receipt).not.toMatch(/\?t=[a-z0-9]/);
  const json = JSON.parse((await download(page, 'JSON')).toString()) as { lines: unknown[]; read: number };
  expect([json.lines.length, json.read]).toEqual([354, 354]);
});

test('two-sided postcards, bed signs, asset tags and packet labels are made and read', async ({ page }) => {
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
    expect(new Set((await Promise.all(pages.map((p) => readAll(p)))).flat().map((c) => c.text)).size).toBe(codes);
  }
});

test('a run is told in one sentence: pictures named from a column, the list with its codes, what is new and what changed', async ({
  page,
}) => {
  await bringIn(page, 'stalls.csv', 'No,Name\n11,Seed stall\n12,Tea / cake\n13,Plant sale\n');
  await expect(row(page, 0)).toContainText('the same,');
  await page.keyboard.press('4');
  await page.getByTitle('What is made').click();
  await page.getByRole('option', { name: /^a picture of each code/ }).click();
  await page.getByTitle('What names the files').click();
  await page.getByRole('option', { name: 'Name', exact: true }).click();
  await clean(page);
  await runIt(page, 'all 3 codes read back');
  const files = unzipSync(await download(page, /^ZIP/));
  const png = Object.keys(files).find((n) => n.endsWith('/Tea - cake.png'))!;
  expect((await readAll(files[png]))[0].text).toBe('12');
  await page.getByTitle('What is made').click();
  await page.getByRole('option', { name: /^the list as XLSX/ }).click();
  await runIt(page, 'all 3 codes read back');
  await expect(page.getByRole('link', { name: /^XLSX/ })).toBeVisible({ timeout: 30_000 });
  expect(readBook('out.xlsx', await download(page, /^XLSX/)).sheets[0].rows[1].slice(0, 2)).toEqual(['11', 'Seed stall']);
  // printed, then one changed: only that one is made again
  await page.getByTitle('What is made').click();
  await page.getByRole('option', { name: /^one PDF for print/ }).click();
  await runIt(page, 'all 3 codes read back');
  await page.keyboard.press('1');
  await row(page, 1).getByText('Tea / cake', { exact: true }).last().dblclick();
  await page.keyboard.type('Tea and cake');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'changed since 1' })).toBeVisible();
  await page.keyboard.press('4');
  await page.getByTitle('Which records').click();
  await page.getByRole('option', { name: 'the 1 changed since they were printed' }).click();
  await runIt(page, 'all 1 code read back');
  // side by side with an earlier one, and off to a printer
  await page.getByTitle('Compare with another run').first().click();
  await expect(page.getByRole('dialog')).toContainText('records are in both');
  await page.keyboard.press('Escape');
  await page.getByTitle('Send it to a printer').first().click();
  await page.getByRole('option', { name: /^Stand-in for office paper/ }).click();
  await expect(page.getByText(/Sent to Stand-in for office paper/)).toBeVisible();
  await clean(page);
  await page.goto('/post-room');
  await expect(page.getByRole('list', { name: 'Sent to Stand-in for office paper' })).toContainText(/printed, 1 sheet/, {
    timeout: 15_000,
  });
  await expect(page.getByRole('list', { name: 'Notices' })).toContainText('is done');
  await clean(page);
  await page.goto('/lists');
  await expect(page.getByRole('link', { name: 'stalls' }).first()).toBeVisible();
  await clean(page);
  await page.goto('/settings');
  await expect(page.getByText('only public ones are asked')).toBeVisible();
  await clean(page);
});

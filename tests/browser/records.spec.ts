import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { read, utils, write } from '@e965/xlsx';
import { expect, test } from '../helpers/browser';
import { findHeaderRow, takenSheet } from '../../src/server/sources/files/preview';
import { readBook } from '../../src/server/sources/files/book';
import { clean } from '../helpers/axe';
import { asFile, bringIn, download, row, upload } from '../helpers/screen';

const faulty = [
  'Tag,Item,Where,GTIN',
  'T-1,Spade ,Shed,2000411000017',
  'T-1,Fork,Shed,2000411000018',
  'T-3,Rake,Barn,2000411000024',
  'T-4,"Long hoe  ",Barn,2000411000031',
  ...Array.from({ length: 9 }, (_, i) => `T-${i + 10},Thing ${i},Barn,`),
].join('\n');

test('problems are counted, shown, mended all at once with a preview, and undone', async ({
  page,
}) => {
  await upload(page, 'faulty.csv', faulty);
  await expect(row(page, 2)).toContainText('Rake');
  await page.keyboard.press('1');
  await expect(page.getByText(/Check \d/)).toContainText(
    '2 repeated keys, 1 wrong check digit and 2 stray spaces',
  );
  await clean(page);
  await page.getByTitle('stray spaces', { exact: true }).click();
  const editor = page.getByRole('dialog');
  await expect(editor).toContainText('Spade␣');
  await expect(editor.getByRole('checkbox')).toHaveCount(2);
  await clean(page);
  await editor.getByRole('button', { name: 'Remove them: 2' }).click();
  await expect(page.getByText(/Check \d/)).not.toContainText('stray');
  await page.getByTitle('repeated keys', { exact: true }).click();
  await expect(editor).toContainText('T-1 → T-1-2');
  await editor.getByRole('button', { name: 'Add -2, -3 … to repeated keys: 1' }).click();
  await expect(row(page, 1)).toContainText('T-1-2');
  await page.keyboard.press('Control+z');
  await expect(row(page, 1)).not.toContainText('T-1-2');
  await page.getByTitle('repeated keys', { exact: true }).click();
  await editor.getByRole('button', { name: 'Show only these' }).click();
  await expect(page.getByText('row 1 of 2')).toBeVisible();
  await page.getByRole('button', { name: 'Show the whole list' }).click();
  await expect(page.getByText(/^row 1 of 13$/)).toBeVisible();
  // the history shows what each step did, and undoes any of them
  await page.getByRole('button', { name: '3 revisions' }).click();
  await page.getByRole('button', { name: /2 stray spaces fixed/ }).click();
  const history = page.getByRole('dialog');
  await expect(history).toContainText('Item: Spade → Spade');
  await clean(page);
  await history.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(history).toContainText('undone');
  await page.keyboard.press('Escape');
  await expect(page.getByText(/Check \d/)).toContainText('2 stray spaces');
});

test('columns are sorted, filtered, renamed and hidden; rows are ticked, printed quickly, added and taken out', async ({
  page,
}) => {
  await bringIn(
    page,
    'tools.csv',
    [
      'Tag,Item,Where',
      ...Array.from(
        { length: 12 },
        (_, i) => `T-${i + 1},Item ${i + 1},${i % 3 ? 'Shed' : 'Barn'}`,
      ),
    ].join('\n'),
  );
  await expect(row(page, 1)).toContainText('Item 2');
  await page.keyboard.press('1');
  await page.getByTitle('The column Tag').click();
  const editor = page.getByRole('dialog');
  await editor.getByRole('button', { name: 'Sort Z–A, 9–0' }).click();
  await page.keyboard.press('Escape');
  await expect(row(page, 0)).toContainText('T-12');
  await page.getByTitle('The column Where').click();
  await editor.getByLabel('text').fill('barn');
  await editor.getByRole('button', { name: 'Show only those' }).click();
  await expect(page.getByText(/^row \d+ of 4$/)).toBeVisible();
  await expect(page.getByText('whose Where holds “barn”')).toBeVisible();
  // tick a range with Shift
  await row(page, 0).getByRole('checkbox').click();
  await row(page, 2)
    .getByRole('checkbox')
    .click({ modifiers: ['Shift'] });
  await expect(page.getByText('3 records ticked')).toBeVisible();
  await clean(page);
  await page.getByRole('button', { name: 'Print codes with titles' }).click();
  await expect(page.getByText('Codes with titles, 3 records').first()).toBeVisible();
  await expect(page.getByText('all 3 codes read back')).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press('1');
  await page.getByRole('button', { name: 'Remove from the list' }).click();
  await expect(page.getByText(/^row \d+ of 1$/)).toBeVisible();
  await page.getByRole('button', { name: 'Show the whole list' }).click();
  await expect(page.getByText('row 1 of 9')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('row 1 of 12')).toBeVisible();
  await page.getByRole('button', { name: 'Add a record' }).click();
  await expect(page.getByText('row 13 of 13')).toBeVisible();
  await page.getByTitle('The column Item').click();
  await editor.getByLabel('Name').fill('Thing');
  await editor.getByRole('button', { name: 'Rename' }).click();
  await page.getByTitle('The column Where').click();
  await editor.getByRole('button', { name: 'Hide' }).click();
  await expect(page.getByText('1 column hidden')).toBeVisible();
  await expect(page.getByTitle('The column Thing')).toBeVisible();
});

test('a file is read again: what changed is shown first, hand edits stay, and it can be undone', async ({
  page,
}) => {
  await bringIn(page, 'beds.csv', 'Bed,Plant\nB1,Thrift\nB2,Sea kale\nB3,Samphire\n');
  await expect(row(page, 0)).toContainText('B1');
  await page.keyboard.press('1');
  await row(page, 0).getByText('Thrift', { exact: true }).last().dblclick();
  await page.keyboard.type('Sea thrift');
  await page.keyboard.press('Enter');
  await expect(row(page, 0)).toContainText('Sea thrift');
  await page.getByTitle('Update from the source').click();
  await page
    .locator('input[type=file]')
    .setInputFiles(asFile('beds.csv', 'Bed,Plant\nB1,Thrift\nB2,Sea holly\nB4,Rocket\n'));
  await expect(page.getByText('beds.csv has changes: 1 added, 1 changed, 1 gone')).toBeVisible({
    timeout: 20_000,
  });
  await page.getByRole('button', { name: 'Review changes' }).click();
  const account = page.getByRole('dialog');
  await expect(account).toContainText('Plant: Sea kale → Sea holly');
  await clean(page);
  await account.getByRole('button', { name: 'Apply changes', exact: true }).click();
  await expect(account).toHaveCount(0);
  await expect(row(page, 1)).toContainText('Sea holly');
  await expect(row(page, 0)).toContainText('Sea thrift');
  await expect(row(page, 2)).toContainText('Rocket');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(row(page, 2)).toContainText('Samphire');
});

test('records come from the garden’s database, from the In-tray and by typing', async ({
  page,
  request,
}) => {
  await page.goto('/bring-in');
  await page.getByRole('button', { name: /A database/ }).click();
  await page.getByTitle('Table').click();
  await page.getByRole('option', { name: /^accession_signs/ }).click();
  await clean(page);
  await page.getByRole('button', { name: 'Read rows' }).click();
  await page.getByRole('button', { name: 'Bring in 1,200 records' }).click({ timeout: 20_000 });
  await page.waitForURL(/\/jobs\/\d+/);
  await page.keyboard.press('1');
  await page.getByTitle('Update from the source').click();
  await page.getByRole('button', { name: 'Update from Garden records' }).click();
  // nothing changed there, so nothing waits
  await expect(page.getByText(/has changes/)).toHaveCount(0);

  const { folder } = (await (await request.get('/api/tray')).json()) as { folder: string };
  const name = `sheds-${Date.now()}.csv`;
  writeFileSync(join(folder, name), 'Shed,Keeper\nS1,Ines\nS2,Tam\n');
  await page.goto('/bring-in');
  await page.getByRole('button', { name: /The In-tray/ }).click();
  await page.getByRole('button', { name: `Read ${name}` }).click();
  await page.getByRole('button', { name: 'Bring in 2 records' }).click();
  await page.waitForURL(/\/jobs\/\d+/);
  await expect(row(page, 1)).toContainText('Tam');
  await page.keyboard.press('1');
  writeFileSync(join(folder, name), 'Shed,Keeper\nS1,Ines\nS2,Joss\nS3,Keiko\n');
  await expect(row(page, 2)).toContainText('Keiko', { timeout: 30_000 });
  await expect(row(page, 1)).toContainText('Joss');

  await page.goto('/bring-in');
  await page.getByRole('button', { name: /Typing/ }).click();
  await page.getByTitle('What a scan does').click();
  await page.getByRole('option', { name: /joins a Wi-Fi/ }).click();
  const sheet = readBook('sheet.xlsx', await download(page, 'XLSX'));
  expect(sheet.sheets[0]!.rows[0]).toEqual(['No', 'Name', 'Network', 'Password']);
  await page.getByLabel('Name of the list').fill('Gate Wi-Fi');
  await clean(page);
  await page.getByRole('button', { name: 'Create an empty list' }).click();
  await page.waitForURL(/\/jobs\/\d+/);
  await page.keyboard.press('1');
  await row(page, 0).locator('[data-look]').first().dblclick();
  for (const text of ['1', 'Gate', 'Dune House', 'salt;marsh']) {
    await page.keyboard.type(text);
    await page.keyboard.press(text === 'salt;marsh' ? 'Enter' : 'Tab');
  }
  // keys are shortcuts again
  await page.keyboard.press('Escape');
  await page.keyboard.press('2');
  await expect(row(page, 0)).toContainText('correct,');
  await expect(row(page, 0)).toContainText('WIFI:T:WPA;S:Dune House;P:');
});

test('a list comes in the same as XLSX, CSV, XLS and ODS', async ({ page }) => {
  const own = readFileSync(join(process.cwd(), 'demo', 'friends.ods'));
  const sheet = readBook('friends.ods', own).sheets[0]!;
  const { rows, names } = takenSheet(sheet, { headerRow: findHeaderRow(sheet.rows) });
  const cells = [names, ...rows].map((r) => r.map((v) => ({ t: 's' as const, v, z: '@' })));
  const book = utils.book_new();
  utils.book_append_sheet(book, utils.aoa_to_sheet(cells), 'Records');
  for (const kind of ['xlsx', 'csv', 'xls', 'ods'] as const) {
    const bytes = write(book, {
      type: 'buffer',
      bookType: kind === 'xls' ? 'biff8' : kind,
    }) as Buffer;
    expect(read(bytes).SheetNames).toHaveLength(1);
    await page.goto('/bring-in');
    await page.locator('input[type=file]').setInputFiles(asFile(`friends.${kind}`, bytes));
    const take = page.getByRole('button', {
      name: new RegExp(`^Bring in ${rows.length.toLocaleString('en')} record`),
    });
    await expect(take).toBeVisible({ timeout: 20_000 });
    await expect(
      page.getByRole('cell', { name: rows[0]!.find((v) => v.length > 3), exact: true }).first(),
    ).toBeVisible();
  }
});

test('a hundred thousand records: opened at once, sorted, searched, edited and judged anew while the table answers', async ({
  page,
}) => {
  test.setTimeout(300_000);
  const csv = [
    'Tag,Item',
    ...Array.from({ length: 100_000 }, (_, i) => `T-${i + 1},Item ${100_000 - i}`),
  ].join('\n');
  await bringIn(page, 'many.csv', csv);
  await expect(page.getByRole('button', { name: 'ready 100,000' })).toBeVisible({
    timeout: 200_000,
  });
  // the last rows follow their count by one request, with their codes
  await page.keyboard.press('End');
  await expect(row(page, 99_999)).toContainText('T-100000');
  await expect(row(page, 99_999)).toContainText('correct, 8 characters');
  await page.reload();
  await page.keyboard.press('Home');
  await expect(row(page, 0)).toContainText('T-1');
  await page.keyboard.press('1');
  await page.getByTitle('The column Item').click();
  await page.getByRole('dialog').getByRole('button', { name: 'Sort A–Z, 0–9' }).click();
  await page.keyboard.press('Escape');
  await expect(row(page, 0)).toContainText('T-100000', { timeout: 15_000 });
  await page.getByRole('button', { name: 'Show the whole list' }).click();
  await page.getByRole('searchbox').fill('Item 31415');
  await expect(page.getByText('row 68,586 of 1')).toBeVisible({ timeout: 15_000 });
  await page.getByRole('searchbox').fill('');
  await row(page, 2).getByText('T-3', { exact: true }).last().dblclick();
  await page.keyboard.type('T-1');
  await page.keyboard.press('Enter');
  await expect(page.getByText('2 repeated keys')).toBeVisible({ timeout: 15_000 });
  // a change of the stamp checks all of them again; the table answers in the meantime keys are
  // shortcuts again
  await page.keyboard.press('Escape');
  await page.keyboard.press('2');
  await page.getByTitle('Code type (symbology)').click();
  await page.getByRole('option', { name: /^Code 39/ }).click();
  await expect(page.getByText(/checking, [\d,]+ to go/)).toBeVisible({ timeout: 15_000 });
  await page.keyboard.press('End');
  await expect(row(page, 99_999)).toContainText('T-100000', { timeout: 15_000 });
});

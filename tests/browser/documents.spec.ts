import { expect, test, type Page } from '../helpers/browser';
import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { docx, inline, paragraph, run, table } from '../../demo/docx';
import { inspectDocx } from '../../src/core/documents';
import { clean } from '../helpers/axe';
import { bringIn } from '../helpers/screen';

const list =
  'Loan,Borrower,Due,Plot\nL-0007,Odile Fenwick,2027-09-30,Dune House\nL-0008,Teo Brandt,2027-03-05,Salt Meadow\n';
const letter = Buffer.from(
  docx({
    media: { 'code.png': readFileSync('docs/screenshots/jobs.png') },
    body: [
      paragraph(inline('pic1', 1, 30, 30)),
      paragraph(run('Dear Odile,')),
      paragraph(
        run('Odile Fen'),
        run('wick has loan L-0007 until 30 September 2027, kept in the shed.'),
      ),
      table([3000, 3000], [[paragraph(run('Where')), paragraph(run('Dune House'))]]),
    ].join(''),
  }),
);
const file = (name: string, buffer: Buffer) => ({
  name,
  mimeType: 'application/octet-stream',
  buffer,
});

async function bringDocument(page: Page, name: string, buffer: Buffer): Promise<void> {
  await page.getByRole('button', { name: 'label stock', exact: true }).click();
  await page.getByRole('option', { name: /a document of your own/ }).click();
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Choose a document' }).click();
  await (await chooser).setFiles(file(name, buffer));
}
const words = (page: Page, text: string) => page.locator('[data-place]', { hasText: text });

test('a finished letter to one person becomes everybody’s: found by itself, pointed at, run and taken away', async ({
  page,
}) => {
  await bringIn(page, 'loans.csv', list);
  await page.keyboard.press('3');
  await bringDocument(page, 'letter.docx', letter);
  const sentence = page.locator('.whole');
  await expect(sentence).toContainText(
    'In letter.docx, written for Odile Fenwick: 4 places follow the record, 1 code; one document for each record.',
  );
  await expect(sentence).toContainText('1 more looks likely');
  await expect(words(page, 'Odile Fenwick')).toBeVisible();
  await clean(page);
  // the next record is in the same places, in the same forms, with its own code
  const code = page.locator('img[data-code]');
  const first = await code.getAttribute('src');
  await page.getByRole('grid').focus();
  await page.keyboard.press('ArrowDown');
  await expect(words(page, 'Teo Brandt')).toBeVisible();
  await expect(words(page, '5 March 2027')).toBeVisible();
  await expect(words(page, 'Salt Meadow')).toBeVisible();
  await expect.poll(() => code.getAttribute('src')).not.toBe(first);
  // likely places are used where they are
  await words(page, 'Odile').click();
  const chosen = page.getByRole('region', { name: 'Selected' });
  await expect(chosen).toContainText('“Odile” looks like Borrower, its first word');
  await chosen.getByRole('button', { name: 'Use it' }).click();
  await expect(words(page, 'Teo').first()).toBeVisible();
  // other words are marked on the page and follow a column
  await page.getByText('kept in the shed').first().waitFor();
  const at = await page.evaluate(() => {
    const host = [...document.querySelectorAll('[role=group]')].find((e) => e.shadowRoot)!;
    const walker = document.createTreeWalker(host.shadowRoot!, NodeFilter.SHOW_TEXT);
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      const from = node.textContent!.indexOf(' shed.') + 1;
      if (from === 0) continue;
      node.parentElement!.scrollIntoView({ block: 'center' });
      const range = document.createRange();
      range.setStart(node, from);
      range.setEnd(node, from + 4);
      const { left, right, top, height } = range.getBoundingClientRect();
      return { left, right, y: top + height / 2 };
    }
    throw new Error('no such words');
  });
  await page.mouse.move(at.left + 0.5, at.y);
  await page.mouse.down();
  await page.mouse.move(at.right - 0.5, at.y, { steps: 5 });
  await page.mouse.up();
  await expect(chosen).toContainText('“shed” is the same in every document');
  await chosen.getByRole('button', { name: 'no column' }).click();
  await page.getByRole('option', { name: 'Plot' }).click();
  await expect(sentence).toContainText('6 places follow the record');
  await expect(words(page, 'Salt Meadow')).toHaveCount(2);
  // the example is there as it was
  await page.getByRole('button', { name: 'the example', exact: true }).click();
  await expect(words(page, 'Odile Fenwick').or(words(page, 'Odile Fen'))).not.toHaveCount(0);
  await page.keyboard.press('4');
  await expect(page.getByRole('button', { name: 'a document for each record' })).toBeVisible();
  await page.getByRole('button', { name: 'Make 2 documents' }).click();
  await expect(page.getByText('all 2 codes read back')).toBeVisible({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: /^ZIP/ }).click();
  const zip = unzipSync(readFileSync(await (await download).path()));
  const made = Object.entries(zip).filter(([name]) => name.endsWith('.docx'));
  expect(made.map(([, bytes]) => inspectDocx(bytes).texts[0]!.paragraphs)).toEqual([
    [
      '',
      'Dear Odile,',
      'Odile Fenwick has loan L-0007 until 30 September 2027, kept in the Dune House.',
      'Where',
      'Dune House',
    ],
    [
      '',
      'Dear Teo,',
      'Teo Brandt has loan L-0008 until 5 March 2027, kept in the Salt Meadow.',
      'Where',
      'Salt Meadow',
    ],
  ]);
});

test('what cannot be used is said in words, and the piece stays as it was', async ({ page }) => {
  await bringIn(page, 'more-loans.csv', list);
  await page.keyboard.press('3');
  await bringDocument(page, 'old.doc', Buffer.from([0xd0, 0xcf, 0x11, 0xe0, 1, 2, 3]));
  await expect(page.getByText('This document is in the old DOC format.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'label stock', exact: true })).toBeVisible();
  // a document without an example record is marked by hand
  await bringDocument(
    page,
    'blank.docx',
    Buffer.from(docx({ body: paragraph(run('To whom it may concern')) })),
  );
  await expect(page.locator('.whole')).toContainText('written for no one in the list');
  await expect(page.getByText('No value of any record was found in it')).toBeVisible();
  // and back, with everything that was on the labels
  await page.getByRole('button', { name: 'blank.docx', exact: true }).click();
  await page.getByRole('option', { name: /label stock/ }).click();
  await expect(page.getByRole('button', { name: 'label stock', exact: true })).toBeVisible();
});

test('what is not kept of a document is said, and it is used only when somebody says so', async ({
  page,
}) => {
  await bringIn(page, 'loans.csv', list);
  await page.keyboard.press('3');
  const changed = docx({
    body: `<w:p><w:del w:id="1"><w:r><w:delText>Hester</w:delText></w:r></w:del><w:ins w:id="2"><w:r><w:t>Odile Fenwick</w:t></w:r></w:ins></w:p>`,
  });
  await bringDocument(page, 'changed.docx', Buffer.from(changed));
  await expect(page.getByText('2 tracked changes taken as accepted.')).toBeVisible();
  await clean(page);
  await page.getByRole('button', { name: 'Cancel' }).click();
  // the button is gone, and where another document can be dropped takes the focus over
  await expect(page.getByRole('button', { name: 'Drop a document here' })).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'label stock', exact: true })).toBeVisible();
  await bringDocument(page, 'changed.docx', Buffer.from(changed));
  await page.getByRole('button', { name: 'Use this document' }).click();
  await expect(page.locator('.whole')).toContainText('In changed.docx, written for Odile Fenwick');
});

test('an empty cell is pointed at and holds a code, and a roster comes once for each shift', async ({
  page,
}) => {
  await bringIn(
    page,
    'shifts.csv',
    'Badge,Name,Shift\nB-1,Odile Fenwick,Sat morning\nB-2,Teo Brandt,Sun morning\nB-3,Wren Halloran,Sat morning\n',
  );
  await page.keyboard.press('3');
  await bringDocument(
    page,
    'roster.docx',
    Buffer.from(
      docx({
        body:
          paragraph(run('Roster of Sat morning')) +
          table([5000, 4000], [[paragraph(run('Scan here')), paragraph()]]) +
          paragraph(run('Helpers')) +
          table([2000, 4000], [[paragraph(run('B-1')), paragraph(run('Odile Fenwick'))]]),
      }),
    ),
  );
  await expect(page.locator('.whole')).toContainText('written for Odile Fenwick');
  const shown = page.getByRole('group', { name: /^roster\.docx/ });
  await shown.locator('td').nth(1).click();
  const chosen = page.getByRole('region', { name: 'Selected' });
  await expect(chosen).toContainText('This cell is empty.');
  await chosen.getByRole('button', { name: /code/ }).first().click();
  await expect(
    shown.getByRole('button', { name: 'A code that changes with the record' }),
  ).toBeVisible();

  await page.getByTitle('One document for').click();
  await page.getByRole('option', { name: 'each Shift' }).click();
  await words(page, 'B-1').first().click();
  await expect(chosen).toContainText('This table row repeats for each');
  await page.getByTitle('Repeats for each record of').click();
  await page.getByRole('option', { name: 'the records that share the document' }).click();
  await expect(shown.getByText('Wren Halloran')).toBeVisible();
  await page.keyboard.press('4');
  await page.getByRole('button', { name: 'Make 2 documents' }).click();
  await expect(page.getByText('all 2 codes read back')).toBeVisible({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: /^ZIP/ }).click();
  const zip = unzipSync(readFileSync(await (await download).path()));
  const saturday = Object.entries(zip).find(([name]) => name.endsWith('Sat morning.docx'))!;
  expect(inspectDocx(saturday[1]).texts[0]!.paragraphs.filter(Boolean)).toEqual([
    'Roster of Sat morning',
    'Scan here',
    'Helpers',
    'B-1',
    'Odile Fenwick',
    'B-3',
    'Wren Halloran',
  ]);
});

test('a page of labels in a table: each cell in turn is somebody’s, with a code of their own', async ({
  page,
}) => {
  const names = ['Odile Fenwick', 'Teo Brandt', 'Wren Halloran', 'Imke Orme', 'Tam Mereweather'];
  await bringIn(
    page,
    'helpers.csv',
    `Badge,Name\n${names.map((name, i) => `B-${i + 1},${name}`).join('\n')}\n`,
  );
  await page.keyboard.press('3');
  const label = [paragraph(run('Odile Fenwick')), paragraph(inline('pic1', 1, 22, 22))].join('');
  await bringDocument(
    page,
    'labels.docx',
    Buffer.from(
      docx({
        media: { 'code.png': readFileSync('docs/screenshots/one-code.png') },
        body: table([4200, 300, 4200], [[label, paragraph(), paragraph()]]) + paragraph(),
      }),
    ),
  );
  await expect(page.locator('.whole')).toContainText('written for Odile Fenwick');
  const shown = page.getByRole('group', { name: /^labels\.docx/ });
  const chosen = page.getByRole('region', { name: 'Selected' });
  if (await shown.getByRole('button', { name: 'A picture of the example' }).count()) {
    await shown.getByRole('button', { name: 'A picture of the example' }).click();
    await chosen.getByRole('button', { name: /code/ }).first().click();
  }
  await page.getByTitle('One document for').click();
  await page.getByRole('option', { name: 'all of them together' }).click();
  await words(page, 'Odile Fenwick').first().click();
  await page.getByTitle('What repeats').click();
  await page.getByRole('option', { name: 'Each cell of this table in turn' }).click();
  await page.getByTitle('Repeats for each record of').click();
  await page.getByRole('option', { name: 'the records that share the document' }).click();
  await expect(shown.getByText('Tam Mereweather')).toBeVisible();
  const codes = shown.getByRole('button', { name: 'A code that changes with the record' });
  await expect(codes).toHaveCount(names.length);
  await expect
    .poll(
      async () =>
        new Set(await codes.evaluateAll((all) => all.map((e) => e.getAttribute('src')))).size,
    )
    .toBe(names.length);
  await page.keyboard.press('4');
  await page.getByRole('button', { name: 'Make 1 document' }).click();
  await expect(page.getByText('all 5 codes read back')).toBeVisible({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: /^ZIP/ }).click();
  const zip = unzipSync(readFileSync(await (await download).path()));
  const made = Object.entries(zip).find(([name]) => name.endsWith('.docx'))!;
  expect(inspectDocx(made[1]).texts[0]!.paragraphs.filter(Boolean)).toEqual(names);
  expect(inspectDocx(made[1]).pictures).toHaveLength(names.length);
});

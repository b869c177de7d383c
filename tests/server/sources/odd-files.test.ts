import { readFileSync, readdirSync, statSync } from 'node:fs';
import { utils, write } from '@e965/xlsx';
import { describe, expect, test } from 'vitest';
import { readBook, type Book } from '../../../src/server/sources/files/book';
import { IntakeError } from '../../../src/server/platform/refusal';
import { Limits, mostRows } from '../../../src/server/sources/files/limits';
import { previewBook, takenSheet } from '../../../src/server/sources/files/preview';

const folder = 'tests/fixtures/odd';
const bytesOf = (name: string) => readFileSync(`${folder}/${name}`);
const read = (name: string): Book => readBook(name, bytesOf(name));
const preview = (name: string) => {
  const book = read(name);
  const shown = previewBook(book);
  return {
    book,
    ...shown,
    sheet: shown.sheets[shown.suggested],
    own: book.sheets[shown.suggested],
  };
};
const taken = (name: string, more: object = {}) => {
  const { sheet, own } = preview(name);
  return takenSheet(own!, { headerRow: sheet!.headerRow, ...more });
};
const refusal = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    if (error instanceof IntakeError) return error.message;
    throw error;
  }
  return 'was taken';
};

test('the files are small, and each is spoken of here', () => {
  const own = readFileSync('tests/server/sources/odd-files.test.ts', 'utf8');
  for (const name of readdirSync(folder)) {
    expect([name, statSync(`${folder}/${name}`).size < 100_000]).toEqual([name, true]);
    expect([name, own.includes(name)]).toEqual([name, true]);
  }
});

test.each(['xlsx', 'ods', 'xls'] as const)(
  'addresses that cells of an %s link to are offered as a column',
  (bookType) => {
    const sheet = utils.aoa_to_sheet([
      ['No', 'Stall', 'Contact', 'Plain'],
      ['1', 'Larch Bakery', 'Write to us', 'https://marram.example/1'],
      ['2', 'Dune Honey', 'Not linked', 'x'],
      ['3', 'Reed Baskets', 'Inside', 'y'],
    ]);
    const link = (cell: string, Target: string) => (sheet[cell].l = { Target });
    link('B2', 'https://marram.example/stalls/larch?a=1&b=2');
    link('B3', 'https://marram.example/stalls/dune');
    link('C2', 'mailto:larch@marram.example?subject=Hello');
    link('C4', '#S!A1');
    link('D2', 'https://marram.example/1');
    const book = utils.book_new();
    utils.book_append_sheet(book, sheet, 'S');
    const read = readBook(
      `stalls.${bookType}`,
      write(book, { type: 'buffer', bookType }) as Buffer,
    );
    const shown = previewBook(read).sheets[0]!;
    expect(shown.links.map(({ at, name, cells }) => [at, name, cells])).toEqual([
      [1, 'Stall link', 2],
      [2, 'Contact link', 1],
    ]);
    expect(shown.links[0]!.head[1]).toBe('https://marram.example/stalls/larch?a=1&b=2');
    expect(shown.roles.slice(4)).toEqual(['address', 'email']);
    const choices = { headerRow: shown.headerRow };
    expect(takenSheet(read.sheets[0]!, choices).names).toHaveLength(4);
    const withLinks = takenSheet(read.sheets[0]!, { ...choices, linksIn: true });
    expect(withLinks.names).toEqual([
      'No',
      'Stall',
      'Contact',
      'Plain',
      'Stall link',
      'Contact link',
    ]);
    expect(withLinks.rows.map((row) => row.slice(4))).toEqual([
      ['https://marram.example/stalls/larch?a=1&b=2', 'larch@marram.example'],
      ['https://marram.example/stalls/dune', ''],
      ['', ''],
    ]);
  },
);

test('what is no text is taken out of a cell, and said', () => {
  const note = (n: string) => `In ${n} a character that cannot be stored was removed.`;
  const text = readBook('a.csv', Buffer.from(`No,Name\n1,A\0B\n${'2,Larch\n'.repeat(40)}`))
    .sheets[0]!;
  expect(text.rows[1]).toEqual(['1', 'AB']);
  expect(text.notes).toEqual([note('1 cell')]);
  const book = utils.book_new();
  utils.book_append_sheet(
    book,
    utils.aoa_to_sheet([
      ['No', 'Na\0me'],
      ['1', 'half \ud83d'],
      ['2', 'whole 😀'],
    ]),
    'S',
  );
  const sheet = readBook(
    'a.xls',
    Buffer.from(write(book, { type: 'array', bookType: 'biff8' }) as ArrayBuffer),
  ).sheets[0]!;
  expect(sheet.rows).toEqual([
    ['No', 'Name'],
    ['1', 'half \ufffd'],
    ['2', 'whole 😀'],
  ]);
  expect(sheet.notes).toEqual([note('2 cells')]);
});

describe('encodings', () => {
  test.each([
    ['windows-1252.csv', 'Windows-1252', 'Søren Nygård'],
    ['mac-roman.csv', 'Mac Roman', 'Søren Nygård'],
    ['cp437.csv', 'CP437', 'Zoë Müller'],
    ['windows-1250.csv', 'Windows-1250', 'Jiří Dvořák'],
    ['iso-8859-2.csv', 'ISO 8859-2', 'Jiří Dvořák'],
    ['windows-1251.csv', 'Windows-1251', 'Анна Лебедева'],
    ['shift-jis.csv', 'Shift-JIS', '佐藤 桂子'],
    ['gb18030.csv', 'GB18030', '王小明'],
    ['utf-16.csv', 'UTF-16', 'Søren'],
  ])('%s is %s', (name, encoding, first) => {
    const book = read(name);
    expect(book.kind).toContain(encoding);
    expect(book.sheets[0]!.rows[1]![1]).toBe(first);
  });
  test('another can be asked for, and another separator', () => {
    const bytes = bytesOf('windows-1250.csv');
    expect(readBook('a.csv', bytes, { encoding: 'windows-1252' }).sheets[0]!.rows[1]![1]).toBe(
      'Jiøí Dvoøák',
    );
    expect(readBook('a.csv', bytes, { separator: ',' }).sheets[0]!.rows[0]).toHaveLength(1);
    expect(readBook('a.csv', bytes, { separator: ',' }).kind).toContain('commas');
  });
  test('a doubt is said where another reading gives other letters', () => {
    // one letter beyond ASCII, which five encodings make five letters of
    const bytes = Buffer.from('No;Name\r\n1;Fj\xe8ld\r\n', 'latin1');
    expect(previewBook(readBook('a.csv', bytes)).text).toMatchObject({ doubtful: true });
    expect(previewBook(read('utf-16.csv')).text).toMatchObject({ doubtful: false });
    expect(previewBook(read('windows-1251.csv')).text).toMatchObject({ doubtful: false });
  });
});

describe('separated text', () => {
  test('line-ends.csv: every kind of line end ends a row, none in quotes does', () => {
    expect(taken('line-ends.csv').rows).toEqual([
      ['0001', 'Ines'],
      ['0002', 'Tam'],
      ['0003', 'Wren\nof the Dunes'],
      ['0004', 'Piran'],
    ]);
  });
  test('unwrapped.csv: what programs wrap to keep zeros is unwrapped', () => {
    expect(taken('unwrapped.csv').rows).toEqual([
      ['00123', '0042', 'Pump'],
      ['00124', '0043', 'Hose, 20 m'],
    ]);
  });
  test('spaces-and-quotes.csv: a space before a quote belongs to neither value', () => {
    expect(taken('spaces-and-quotes.csv').rows).toEqual([
      ['1', 'Pump, large', 'Dune "House"'],
      ['2', 'Hose', ' Salt Meadow'],
    ]);
  });
  test('pipes.txt is cut at its upright strokes', () => {
    expect(read('pipes.txt').kind).toContain('upright strokes');
    expect(taken('pipes.txt').rows[0]).toEqual(['001', 'Pump, large', 'Dune House']);
  });
  test('unclosed-quote.csv names the line', () => {
    expect(refusal(() => read('unclosed-quote.csv'))).toMatch(
      /quotation mark in line 3 opens a value that is never closed/,
    );
  });
  test('ragged.csv: a wider row does not become the heading', () => {
    const { sheet } = preview('ragged.csv');
    expect(sheet!.headerRow).toBe(0);
    expect(taken('ragged.csv').names.slice(0, 2)).toEqual(['Tag', 'Item']);
  });
  test('blank-rows-first.csv: rows keep the numbers they have in the file', () => {
    const { sheet } = preview('blank-rows-first.csv');
    expect([sheet!.headerRow, sheet!.numbers]).toEqual([0, [4, 5, 7]]);
    expect(taken('blank-rows-first.csv').rows).toEqual([
      ['001', 'Pump'],
      ['002', 'Hose'],
    ]);
  });
});

describe('which sheet, which rows', () => {
  test('no-headings.csv: the first row is a record, and is kept', () => {
    const { sheet } = preview('no-headings.csv');
    expect([sheet!.headerRow, sheet!.roles]).toEqual([-1, ['key', 'name', 'email']]);
    expect(taken('no-headings.csv')).toMatchObject({ names: ['Column 1', 'Column 2', 'Column 3'] });
    expect(taken('no-headings.csv').rows).toHaveLength(3);
  });
  test('totals.csv: the last row sums up, and can be left out', () => {
    expect(preview('totals.csv').sheet!.sum).toBe('Total, 22');
    expect(taken('totals.csv', { lastOut: true }).rows.map((r) => r[0])).toEqual([
      'Pump',
      'Hose',
      'Rake',
    ]);
    expect(taken('totals.csv').rows).toHaveLength(4);
    expect(preview('ragged.csv').sheet!.sum).toBeUndefined();
  });
  test('cover-sheet-first.xlsx and empty-sheet-first.xlsx: the sheet that looks like a table is taken', () => {
    for (const name of ['cover-sheet-first.xlsx', 'empty-sheet-first.xlsx']) {
      const { suggested, sheet } = preview(name);
      expect([name, suggested, sheet!.name, sheet!.rows]).toEqual([name, 1, 'Tools', 4]);
    }
  });
  test('hidden.xlsx, hidden.ods: hidden rows and columns are said, and left out if one likes', () => {
    for (const name of ['hidden.xlsx', 'hidden.ods']) {
      const { sheet } = preview(name);
      expect([name, sheet!.hiddenRows, sheet!.hiddenColumns, sheet!.hiddenNames]).toEqual([
        name,
        1,
        1,
        ['Site'],
      ]);
      expect(taken(name).rows).toHaveLength(3);
      expect(taken(name, { hiddenOut: true })).toMatchObject({
        names: ['Tag', 'Item'],
        rows: [
          ['0001', 'Pump'],
          ['0003', 'Rake'],
        ],
      });
    }
    expect(preview('hidden.ods').sheet!.filtered).toBe(true);
  });
  test('filtered.xlsx: rows out of a filter are told from rows hidden one by one', () => {
    expect(preview('filtered.xlsx').sheet).toMatchObject({ filtered: true, hiddenRows: 2 });
    expect(preview('hidden.xlsx').sheet).toMatchObject({ filtered: false });
    expect(taken('filtered.xlsx', { hiddenOut: true }).rows).toEqual([
      ['0003', 'Rake', 'Glasshouse'],
    ]);
  });
  test('merged-down.xlsx: cells under a merged one are counted, and filled if one likes', () => {
    expect(preview('merged-down.xlsx').sheet!.merged).toBe(2);
    expect(taken('merged-down.xlsx').rows.map((r) => r[0])).toEqual([
      'Dune House',
      '',
      '',
      'Glasshouse',
    ]);
    expect(taken('merged-down.xlsx', { fillDown: true }).rows.map((r) => r[0])).toEqual([
      'Dune House',
      'Dune House',
      'Dune House',
      'Glasshouse',
    ]);
  });
});

describe('values', () => {
  test('dates-and-digits.xlsx: dates without a form of their own are ISO, and told; rounded digits stay doubtful', () => {
    const { rows, doubts } = taken('dates-and-digits.xlsx');
    expect(rows.map((r) => r[1])).toEqual(['2026-11-25', '2025-12-13']);
    expect(doubts).toEqual([{ 2: 'rounded' }, undefined]);
    expect(preview('dates-and-digits.xlsx').sheet!.notes.join(' ')).toMatch(
      /1 number has over 15 digits.*2 dates have no form/,
    );
  });
  test('no-results.xlsx: a formula whose result is not in the file is counted, its cell doubtful', () => {
    const { rows, doubts } = taken('no-results.xlsx');
    expect(rows.map((r) => r[1])).toEqual(['', 'HOSE', 'Rake']);
    expect(doubts[0]).toEqual({ 1: 'no-result' });
    expect(preview('no-results.xlsx').sheet!.notes.join(' ')).toContain(
      '1 formula has no result stored in the file',
    );
  });
});

describe('limits', () => {
  test('claims-everything.xlsx: only cells that are there are walked', () => {
    expect(taken('claims-everything.xlsx').rows).toHaveLength(3);
  });
  test('repeats-everything.ods is refused before it is unfolded', () => {
    expect(refusal(() => read('repeats-everything.ods'))).toContain('repeats cells');
  });
  test('what is too much is named: rows, columns, a cell', () => {
    const rows = (n: number, line: string) => Buffer.from(`No,Name\n${line.repeat(n)}`);
    expect(readBook('a.csv', rows(mostRows, '1,x\n')).sheets[0]!.rows).toHaveLength(mostRows + 1);
    expect(refusal(() => new Limits('a.csv').records(mostRows + 1))).toContain('200,001 records');
    expect(refusal(() => readBook('a.csv', rows(mostRows + 100, '1,x\n')))).toContain(
      'more than 200,000 rows',
    );
    expect(refusal(() => readBook('a.csv', Buffer.from(`${'a,'.repeat(600)}b\n1,2\n`)))).toContain(
      '601 columns',
    );
    expect(
      refusal(() => readBook('a.csv', Buffer.from(`a,b\n1,"${'x'.repeat(100_001)}"\n`))),
    ).toContain('100,001 characters');
    // padding of separators is no column
    expect(
      readBook('a.csv', Buffer.from(`a,b${','.repeat(900)}\n1,2${','.repeat(900)}\n`)).sheets[0]!
        .rows[0],
    ).toEqual(['a', 'b']);
  });
});

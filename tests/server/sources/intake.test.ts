import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { utils, write, type BookType, type CellObject, type WorkSheet } from '@e965/xlsx';
import fc from 'fast-check';
import { zipSync } from 'fflate';
import { describe, expect, test } from 'vitest';
import { plainSheet, readBook } from '../../../src/server/sources/files/book';
import { IntakeError } from '../../../src/server/platform/refusal';
import { findHeaderRow, previewBook, takenSheet } from '../../../src/server/sources/files/preview';
import { Limits } from '../../../src/server/sources/files/limits';
import { decodeText, findSeparator, parseSeparated } from '../../../src/server/sources/files/text';

const bytes = (text: string) => new TextEncoder().encode(text);
const utf16 = (text: string, big = false) => {
  const buffer = Buffer.from(text, 'utf16le');
  return new Uint8Array(big ? buffer.swap16() : buffer);
};

function workbook(
  sheets: Record<string, WorkSheet>,
  type: BookType,
  hidden: string[] = [],
): Uint8Array {
  const book = utils.book_new();
  for (const [name, sheet] of Object.entries(sheets)) utils.book_append_sheet(book, sheet, name);
  book.Workbook = {
    Sheets: book.SheetNames.map((name) => ({ name, Hidden: hidden.includes(name) ? 1 : 0 })),
  };
  return new Uint8Array(
    write(book, { type: 'array', bookType: type, compression: true }) as ArrayBuffer,
  );
}

const message = (name: string, content: Uint8Array): string => {
  try {
    readBook(name, content);
  } catch (error) {
    if (error instanceof IntakeError) return error.message;
    throw error;
  }
  return 'was read';
};

describe('separated text', () => {
  const table = 'Nº;Name\r\n0042;Søren\r\n';
  test.each([
    ['UTF-8', bytes(table)],
    ['UTF-8', bytes(`\ufeff${table}`)],
    ['UTF-16', utf16(`\ufeff${table}`)],
    ['UTF-16', utf16(`\ufeff${table}`, true)],
    ['UTF-16', utf16('No;Name\r\n0042;Soren\r\n')],
    ['Windows-1252', new Uint8Array(Buffer.from(table, 'latin1'))],
  ])('%s is recognised', (encoding, content) => {
    expect(decodeText(content).encoding).toBe(encoding);
    expect(readBook('a.csv', content).sheets[0]!.rows[1]![0]).toBe('0042');
  });

  test('the separator is the one that cuts the lines alike, quotes respected', () => {
    expect(findSeparator('a;b,c;d\n1;2,5;3\n')).toBe(';');
    expect(findSeparator('a\tb\n1,5\t2\n')).toBe('\t');
    expect(findSeparator('"a;b;c",d\n"x;y;z",e\n')).toBe(',');
    expect(findSeparator('one\ntwo\n')).toBe(',');
    expect(findSeparator('Lamps of the garden\n\nTag;Item\n1;a, b\n2;c\n')).toBe(';');
  });

  test('values stay as written: zeros, long digits, quotes, line breaks in a cell', () => {
    const { rows } = readBook(
      'a.csv',
      bytes('Tag,No,Note\n007,2000411000017,"say ""hi"", twice\nand again"\n 1 ,0x1F,\n'),
    ).sheets[0]!;
    expect(rows[1]).toEqual(['007', '2000411000017', 'say "hi", twice\nand again']);
    expect(rows[2]).toEqual([' 1 ', '0x1F', '']);
  });

  test.each([',', ';', '\t'] as const)(
    'a text without a quote is cut as it is when a quote stands in its last line (%j)',
    (separator) => {
      const signs = fc.constantFrom(
        separator,
        separator,
        '\n',
        '\r\n',
        '\r',
        'a',
        'ß',
        ' ',
        '=',
        ',',
      );
      fc.assert(
        fc.property(fc.array(signs, { maxLength: 60 }), (parts) => {
          const text = `first${parts.join('')}`;
          const limits = () => new Limits('a.csv');
          const { rows } = parseSeparated('a.csv', text, limits(), separator);
          // the parser of the library is needed for this one
          const quoted = parseSeparated('a.csv', `${text}\n"last"`, limits(), separator).rows;
          expect(quoted.at(-1)!.cells).toEqual(['last']);
          expect(rows).toEqual(quoted.slice(0, -1));
        }),
        { numRuns: 500 },
      );
    },
  );

  test('blank rows are left out with a word, short rows are filled up', () => {
    const sheet = readBook('a.csv', bytes('A,B\n1,2\n,\n\n3\n,,\n')).sheets[0]!;
    expect(sheet.rows).toEqual([
      ['A', 'B'],
      ['1', '2'],
      ['3', ''],
    ]);
    expect(sheet.notes).toEqual(['2 blank rows were left out.']);
  });
});

describe('workbooks', () => {
  const sheet = (): WorkSheet => {
    const s = utils.aoa_to_sheet([
      ['Key', 'Number', 'When', 'Share', 'Long'],
      ['007', 2000411000017, 45992, 0.125, 12345678901234567890],
    ]);
    (s['C2'] as CellObject).z = 'dd.mm.yyyy';
    (s['D2'] as CellObject).z = '0.0%';
    return s;
  };

  test.each(['xlsx', 'biff8'] as const)(
    '%s: numbers keep their digits, dates and shares are as shown',
    (type) => {
      const book = readBook(`a.${type}`, workbook({ List: sheet() }, type));
      expect(book.sheets[0]!.rows[1]!.slice(0, 4)).toEqual([
        '007',
        '2000411000017',
        '01.12.2025',
        '12.5%',
      ]);
      expect(book.sheets[0]!.notes[0]).toContain('over 15 digits');
    },
  );

  test('an ODS made by hand from the open format: what is shown counts', () => {
    const cell = (attributes: string, text: string) =>
      `<table:table-cell ${attributes}><text:p>${text}</text:p></table:table-cell>`;
    const content =
      '<?xml version="1.0" encoding="UTF-8"?><office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" office:version="1.3"><office:body><office:spreadsheet><table:table table:name="List">' +
      `<table:table-row>${['Key', 'Number', 'When'].map((h) => cell('office:value-type="string"', h)).join('')}</table:table-row>` +
      `<table:table-row>${cell('office:value-type="string"', '007')}${cell('office:value-type="float" office:value="2000411000017"', '2000411000017')}${cell('office:value-type="date" office:date-value="2025-12-01"', '01.12.2025')}</table:table-row>` +
      '</table:table></office:spreadsheet></office:body></office:document-content>';
    const ods = zipSync({
      mimetype: bytes('application/vnd.oasis.opendocument.spreadsheet'),
      'content.xml': bytes(content),
      'styles.xml': bytes(
        '<?xml version="1.0"?><office:document-styles xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"/>',
      ),
      'META-INF/manifest.xml': bytes('<manifest/>'),
    });
    expect(readBook('a.ods', ods).sheets[0]!.rows[1]).toEqual([
      '007',
      '2000411000017',
      '01.12.2025',
    ]);
  });

  test('several sheets, hidden ones marked; the header row is found below a title', () => {
    const rows = [
      ['Volunteers, open weekend'],
      [],
      ['Badge no', 'Name', 'Site'],
      ['DH-0142', 'Ines', 'Dune House'],
      ['DH-0143', 'Tam', 'Dune House'],
    ];
    const preview = previewBook(
      readBook(
        'a.xlsx',
        workbook({ Notes: utils.aoa_to_sheet([['x']]), People: utils.aoa_to_sheet(rows) }, 'xlsx', [
          'Notes',
        ]),
      ),
    );
    expect(preview.sheets.map((s) => [s.name, s.hidden])).toEqual([
      ['Notes', true],
      ['People', false],
    ]);
    expect(preview.sheets[1]).toMatchObject({ headerRow: 1, roles: ['key', 'name', 'text'] });
    expect(
      takenSheet(
        readBook('a.xlsx', workbook({ People: utils.aoa_to_sheet(rows) }, 'xlsx')).sheets[0]!,
        { headerRow: 1 },
      ).rows,
    ).toHaveLength(2);
  });

  test('formula errors are counted and kept as they are shown', () => {
    const s = utils.aoa_to_sheet([
      ['Key', 'Page'],
      ['1', 'x'],
    ]);
    s['B2'] = { t: 'e', v: 0x17, w: '#REF!' };
    const read = readBook('a.xlsx', workbook({ A: s }, 'xlsx')).sheets[0]!;
    expect(read.rows[1]![1]).toBe('#REF!');
    expect(read.notes).toEqual(['1 cell holds a formula error; their records will need a look.']);
  });

  test('300 columns are brought in', () => {
    const wide = [
      Array.from({ length: 300 }, (_, i) => `C${i}`),
      Array.from({ length: 300 }, (_, i) => i),
    ];
    const preview = previewBook(
      readBook('wide.xlsx', workbook({ A: utils.aoa_to_sheet(wide) }, 'xlsx')),
    );
    expect(preview.sheets[0]!.columns).toBe(300);
    expect(preview.sheets[0]!.notes).toContain(
      'The sheet has 300 columns; all of them are brought in.',
    );
  });

  test('no headings at all: columns are called by their place', () => {
    expect(
      findHeaderRow([
        ['DH-1', 'Ines'],
        ['DH-2', 'Tam'],
      ]),
    ).toBe(-1);
    expect(
      findHeaderRow([
        ['Ines', 'Dune House'],
        ['Tam', 'Salt Meadow'],
      ]),
    ).toBe(0);
    expect(takenSheet(plainSheet('', [['1', '2']]), { headerRow: -1 })).toMatchObject({
      names: ['Column 1', 'Column 2'],
      notes: [],
      rows: [['1', '2']],
    });
  });
});

describe('what is no spreadsheet says so, and what would help', () => {
  test.each([
    ['empty.csv', new Uint8Array(0), 'empty'],
    ['blank.csv', bytes(' \n , \n'), 'no filled cells'],
    ['letter.pdf', bytes('%PDF-1.7 …'), 'a PDF document'],
    ['photo.csv', new Uint8Array([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]), 'a PNG picture'],
    ['page.xls', bytes('<!doctype html><table><tr><td>1'), 'a web page'],
    [
      'noise.csv',
      Uint8Array.from({ length: 4000 }, (_, i) => (i * 7919) % 256),
      'not a spreadsheet',
    ],
    ['files.zip', zipSync({ 'a.txt': bytes('hello') }), 'a ZIP file'],
    ['text.docx', zipSync({ 'word/document.xml': bytes('<w/>') }), 'a text document'],
    ['broken.xlsx', workbook({ A: utils.aoa_to_sheet([['x']]) }, 'xlsx').slice(0, 300), 'damaged'],
    [
      'broken.xls',
      new Uint8Array([
        0xd0,
        0xcf,
        0x11,
        0xe0,
        0xa1,
        0xb1,
        0x1a,
        0xe1,
        ...new Array<number>(600).fill(1),
      ]),
      'cannot be opened',
    ],
    ['big.csv', new Uint8Array(60 * 1024 * 1024), '60 MB'],
  ])('%s', (name, content, says) => {
    expect(message(name, content)).toContain(says);
  });

  test('a ZIP bomb is not unpacked into memory, even when it lies about its size', () => {
    const size = 410 * 1024 * 1024;
    const honest = zipSync(
      { 'xl/workbook.xml': bytes('<workbook/>'), 'xl/worksheets/sheet1.xml': new Uint8Array(size) },
      { level: 1 },
    );
    expect(honest.length).toBeLessThan(4_000_000);
    expect(message('bomb.xlsx', honest)).toContain('would unpack to more than 400 MB');
    const liar = Buffer.from(honest);
    const declared = Buffer.alloc(4);
    declared.writeUInt32LE(size);
    for (let at = liar.indexOf(declared); at >= 0; at = liar.indexOf(declared, at + 4))
      liar.writeUInt32LE(1000, at);
    expect(message('bomb.xlsx', liar)).toContain('would unpack to more than 400 MB');
  });
});

const demoLists = [
  'volunteers.xlsx',
  'equipment.csv',
  'seed-packets.xlsx',
  'accessions.csv',
  'friends.ods',
  'seed-loans.xls',
  'workshops.tsv',
];

test('the seven demo lists are read, with their faults', () => {
  const counts = [182, 240, 60, 1200, 400, 12, 4];
  for (const [i, count] of counts.entries()) {
    const name = demoLists[i]!;
    const book = readBook(name, readFileSync(`demo/${name}`));
    const { rows } = takenSheet(book.sheets[0]!, {
      headerRow: findHeaderRow(book.sheets[0]!.rows),
    });
    expect([name, rows.length]).toEqual([name, count]);
  }
  const packets = readBook('seed-packets.xlsx', readFileSync('demo/seed-packets.xlsx')).sheets[0]!
    .rows;
  expect(packets[1]![0]).toMatch(/^\d{13}$/);
  expect(packets[42]![0]).toMatch(/^\d{11}$/);
});

test.each(['xlsx', 'csv', 'biff8', 'ods'] as const)(
  'the seven demo lists come in the same when they are saved as %s, suggestions and all',
  (type) => {
    for (const name of demoLists) {
      const own = readBook(name, readFileSync(`demo/${name}`)).sheets[0]!;
      const preview = previewBook(readBook(name, readFileSync(`demo/${name}`))).sheets[0]!;
      const { rows, names } = takenSheet(own, { headerRow: findHeaderRow(own.rows) });
      const cells = [names, ...rows].map((row) => row.map((v) => ({ t: 's' as const, v, z: '@' })));
      const saved = readBook(name, workbook({ Records: utils.aoa_to_sheet(cells) }, type));
      const again = takenSheet(saved.sheets[0]!, { headerRow: 0 });
      expect(again.names).toEqual(names);
      expect(again.rows).toEqual(rows);
      const { headerRow, roles } = previewBook(saved).sheets[0]!;
      expect({ name, headerRow, roles }).toEqual({ name, headerRow: 0, roles: preview.roles });
    }
  },
);

describe('files that a spreadsheet program saved, with a title merged over the table, a hidden row, formulas and two sheets', () => {
  const file = (ending: string) =>
    readFileSync(join(process.cwd(), 'tests/fixtures/spreadsheets', `stewards.${ending}`));
  const rows = [
    ['0007', 'Ines Okafor', '28.11.2026', '2000411000017'],
    ['0008', 'Σοφία Καρρά', '29.11.2026', '2000411000024'],
    ['0009', '桂子 Marsh', '30.11.2026', '2000411000031'],
  ];

  test.each(['xlsx', 'xls', 'ods'])(
    '%s: every value as it is shown, formulas by their results',
    (ending) => {
      const book = readBook(`stewards.${ending}`, file(ending));
      expect(book.sheets.map((s) => s.name)).toEqual(['Notes', 'Stewards']);
      const sheet = book.sheets[1]!;
      expect(findHeaderRow(sheet.rows)).toBe(1);
      const { names, rows: read } = takenSheet(sheet, { headerRow: 1 });
      expect(names).toEqual(['Badge no', 'Name', 'Day', 'Number', 'Label']);
      expect(read.map((r) => r.slice(0, 4))).toEqual(rows);
      expect(read[0]![4]).toBe('Ines Okafor (7)');
      expect(read[2]![4]).toMatch(/^(#DIV\/0!|#VALUE!|Err:\d+)$/);
    },
  );

  test('csv: semicolons and UTF-8 found by themselves', () => {
    const book = readBook('stewards.csv', file('csv'));
    expect(book.kind).toMatch(/semicolons/);
    const { rows: read } = takenSheet(book.sheets[0]!, {
      headerRow: findHeaderRow(book.sheets[0]!.rows),
    });
    expect(read.map((r) => r[1])).toEqual(rows.map((r) => r[1]));
  });
});

import { readFileSync } from 'node:fs';
import { strToU8, unzipSync, strFromU8, zipSync } from 'fflate';
import { describe, expect, test } from 'vitest';
import { anchored, docx, inline, paragraph, run, table, textBox } from '../../../demo/docx';
import { codePicture } from '../../../src/core/documents/code';
import {
  DocxMerge,
  findPlaces,
  formsOf,
  inspectDocx,
  rowsKey,
  shownDocx,
  weigher,
  written,
} from '../../../src/core/documents';
import { firstStamp, type Stamp } from '../../../src/core/payload/stamp';
import type { Piece } from '../../../src/core/piece/model';
import type { DocumentGround, Ground } from '../../../src/core/piece/ground';
import { FontBook } from '../../../src/core/artwork/fonts';
import { pdfKey } from '../../../src/core/grounds';
import { judgingOf } from '../../../src/core/grounds/judging';
import type { Column, Values } from '../../../src/core/records/columns';
import { readImage } from '../../../src/core/readback/readback';
import { encode } from '../../../src/core/symbology';
import { provideReader } from '../../../src/server/platform/reader';

const columns: Column[] = [
  { id: 'c1', name: 'Loan', role: 'key' },
  { id: 'c2', name: 'Borrower', role: 'name' },
  { id: 'c3', name: 'Due', role: 'text' },
  { id: 'c4', name: 'Grains', role: 'text' },
  { id: 'c5', name: 'Note', role: 'text' },
];
const odile: Values = { c1: 'L-0007', c2: 'Odile Fenwick', c3: '2027-09-30', c4: '12500', c5: '' };
const hester: Values = {
  c1: 'L-0013',
  c2: 'Hester Lowe',
  c3: '2027-01-05',
  c4: '980',
  c5: 'Bring\nthe jar',
};
const date = new Date('2026-11-26T09:00:00Z');
const noCodes = new Map<string, never>();

function groundOf(bytes: Uint8Array, values: Values, change: Partial<DocumentGround> = {}) {
  const { texts } = inspectDocx(bytes);
  return {
    kind: 'document' as const,
    document: 1,
    name: 'x.docx',
    places: findPlaces(texts, columns, values),
    codes: [],
    blocks: [],
    ...change,
  };
}
const textOf = (bytes: Uint8Array): string[] =>
  inspectDocx(bytes).texts.flatMap((t) => t.paragraphs);
const taken = (ground: DocumentGround): DocumentGround => ({
  ...ground,
  places: ground.places.map((place) => ({ ...place, likely: undefined })),
});

describe('the forms in which a value stands in a document', () => {
  test.each([
    ['2027-09-30', '30 September 2027'],
    ['2027-09-30', 'Thursday, September 30, 2027'],
    ['30.09.2027', '30/09/2027'],
    ['12500', '12,500'],
    ['12,500.50', '12500.50'],
    ['Odile Fenwick', 'ODILE FENWICK'],
  ])('%s may stand as %s', (value, text) => {
    const form = formsOf(value, 'text').find((f) => f.text === text);
    expect(form?.form).toBeDefined();
    expect(written(value, form!.form)).toBe(text);
  });
  test('the first word of a name is likely only, and short values never certain', () => {
    expect(formsOf('Odile Fenwick', 'name').find((f) => f.text === 'Odile')).toMatchObject({
      sure: false,
    });
    expect(formsOf('12', 'text')).toMatchObject([{ text: '12', sure: false }]);
  });
  test('a number that begins with 0 is a name and not a number', () => {
    expect(formsOf('0012500', 'text').map((f) => f.text)).toEqual(['0012500']);
  });
});

const letter = docx({
  header: paragraph(run('Agreement '), run('L-0007')),
  footer: paragraph(run('Kept for Odile Fenwick')),
  body: [
    paragraph(
      run('Between the library and '),
      run('Odi'),
      run('le Fen', { bold: true }),
      run('wick, loan L-0007,'),
    ),
    paragraph(run('due back by 30 September 2027: 12,500 grains.')),
    table([3000, 3000], [[paragraph(run('Borrower')), paragraph(run('ODILE FENWICK'))]]),
    paragraph(textBox(paragraph(run('For Odile Fenwick only')))),
    paragraph(run('Dear Odile, L-00071 is another.')),
  ].join(''),
});

test('an example tells for whom it was written, in whatever form and however broken up', () => {
  const { texts } = inspectDocx(letter);
  const weigh = weigher(texts, columns);
  expect(weigh(odile)).toBeGreaterThan(weigh(hester));
  expect(weigh(hester)).toBe(0);
  const places = findPlaces(texts, columns, odile);
  const said = places.map((p) => [p.example, p.likely ?? false]);
  expect(said).toEqual([
    ['Odile Fenwick', false],
    ['L-0007', false],
    ['30 September 2027', false],
    ['12,500', false],
    ['ODILE FENWICK', false],
    ['Odile Fenwick', false],
    ['Odile', true],
    ['L-0007', false],
    ['Odile Fenwick', false],
  ]);
  expect(places.map((p) => p.part)).toEqual([
    ...Array.from({ length: 7 }, () => 'word/document.xml'),
    'word/header1.xml',
    'word/footer1.xml',
  ]);
});

test('a word that is part of a name of something else is likely only', () => {
  const bytes = docx({
    body: [
      paragraph(run('Marram Bay Seed Library')),
      paragraph(run('The North Marram.')),
      paragraph(run('We lend marram. Marram is a grass, and Thrift, Marram, Sea kale are seeds.')),
    ].join(''),
  });
  const places = findPlaces(inspectDocx(bytes).texts, [{ id: 'c1', name: 'Seeds', role: 'text' }], {
    c1: 'Marram',
  });
  expect(places.map((p) => [p.paragraph, p.from, p.likely ?? false])).toEqual([
    [0, 0, true],
    [1, 10, true],
    [2, 8, false],
    [2, 16, false],
    [2, 47, false],
  ]);
});

test('another record has its own values in the same forms, in every part', () => {
  const merge = new DocxMerge(letter, taken(groundOf(letter, odile)));
  const made = merge.fill(hester, noCodes, date);
  expect(textOf(made)).toEqual([
    'Between the library and Hester Lowe, loan L-0013,',
    'due back by 5 January 2027: 980 grains.',
    'Borrower',
    'HESTER LOWE',
    '',
    'For Hester Lowe only',
    'Dear Hester, L-00071 is another.',
    'Agreement L-0013',
    'Kept for Hester Lowe',
  ]);
  const xml = strFromU8(unzipSync(made)['word/document.xml']!);
  // the older form of the text box says the same, and the looks of the first run stay
  expect(xml.match(/For Hester Lowe only/g)).toHaveLength(2);
  expect(xml).not.toMatch(/Odile|Fenwick/i);
  expect(merge.fill(hester, noCodes, date)).toEqual(made);
});

test('the example made for its own record is the example', () => {
  const merge = new DocxMerge(letter, taken(groundOf(letter, odile)));
  expect(textOf(merge.fill(odile, noCodes, date))).toEqual(textOf(letter));
});

test('a blank leaves out its words with a space, or its line', () => {
  const bytes = docx({
    body: [
      paragraph(run('Lent to Odile Fenwick, until spring.')),
      paragraph(run('Note: L-0007')),
      table([3000], [[paragraph(run('Odile Fenwick'))]]),
    ].join(''),
  });
  const ground = groundOf(bytes, odile);
  ground.places[0]!.blank = 'words';
  ground.places[1]!.blank = 'line';
  ground.places[2]!.blank = 'line';
  const made = new DocxMerge(bytes, ground).fill({}, noCodes, date);
  // a cell is never without a paragraph
  expect(textOf(made)).toEqual(['Lent to, until spring.', '']);
});

test('line breaks in a value are line breaks, and what XML cannot hold is left out', () => {
  const bytes = docx({ body: paragraph(run('L-0007')) });
  const made = new DocxMerge(bytes, groundOf(bytes, odile)).fill(
    { c1: 'one\ntwo \u0007<&>\ufffc' },
    noCodes,
    date,
  );
  expect(textOf(made)).toEqual(['one\ntwo <&>']);
});

test('a table row comes once for each row that belongs to the record, and those of the example go', () => {
  const bytes = docx({
    body: table(
      [2000, 4000],
      [
        [paragraph(run('Packet')), paragraph(run('Variety'))],
        [paragraph(run('P-118')), paragraph(run('Sea '), run('kale'))],
        [paragraph(run('P-131')), paragraph(run('Horned poppy'))],
      ],
    ),
  });
  const { texts, rows } = inspectDocx(bytes);
  expect(rows.map((r) => r.paragraphs)).toEqual([
    [0, 1],
    [2, 3],
    [4, 5],
  ]);
  const block = {
    id: 'b1',
    part: 'word/document.xml',
    row: 1,
    goes: 1,
    list: 9,
    by: 'c1',
    is: 'c1',
  };
  const places = findPlaces(
    texts,
    [
      { id: 'c1', name: 'Packet', role: 'key' },
      { id: 'c2', name: 'Variety', role: 'text' },
    ],
    { c1: 'P-118', c2: 'Sea kale' },
  ).map((p) => ({ ...p, block: 'b1' }));
  const merge = new DocxMerge(bytes, groundOf(bytes, {}, { places, blocks: [block] }));
  const packets = [
    { c1: 'P-1', c2: 'Thrift' },
    { c1: 'P-2', c2: 'Marram' },
    { c1: 'P-3', c2: '' },
  ];
  const made = merge.fill({ [rowsKey(block)]: JSON.stringify(packets) }, noCodes, date);
  expect(textOf(made)).toEqual(['Packet', 'Variety', 'P-1', 'Thrift', 'P-2', 'Marram', 'P-3', '']);
  expect(textOf(merge.fill({}, noCodes, date))).toEqual(['Packet', 'Variety']);
});

const stamp = { ...firstStamp(columns), symbology: 'qr' as const };
const square = { png: strToU8('x'), svg: strToU8('x'), about: 'x' };

describe('codes in a document', () => {
  const bytes = docx({
    media: { 'code.png': new Uint8Array([1, 2, 3]) },
    header: paragraph(run('head')),
    body: [
      paragraph(run('a'), inline('pic1', 1, 30, 30)),
      paragraph(anchored('pic1', 2, 40, 25), run('b')),
      paragraph(run('put it here please')),
      paragraph(),
    ].join(''),
  });
  const at = (picture: number) => ({
    kind: 'picture' as const,
    part: 'word/document.xml',
    picture,
  });
  const { pictures } = inspectDocx(bytes);

  test('the pictures of an example are known with their size', () => {
    expect(pictures.map((p) => [p.widthMm, p.heightMm])).toEqual([
      [30, 30],
      [40, 25],
    ]);
  });

  test('one picture becomes a code, another that shows the same file stays as it is', () => {
    const ground = groundOf(
      bytes,
      {},
      {
        codes: [{ id: 'k', stamp: stamp.id, widthMm: 40, heightMm: 25, at: at(1) }],
      },
    );
    const made = unzipSync(new DocxMerge(bytes, ground).fill({}, new Map([['k', square]]), date));
    expect(made['word/media/code.png']).toEqual(new Uint8Array([1, 2, 3]));
    const rels = strFromU8(made['word/_rels/document.xml.rels']!);
    expect(rels).toContain('media/code-1.png');
    expect(rels).toContain('media/code-1.svg');
    const xml = strFromU8(made['word/document.xml']!);
    expect(xml.match(/r:embed="pic1"/g)).toHaveLength(1);
    expect(xml.match(/r:embed="codePng1"/g)).toHaveLength(1);
    expect(xml.match(/r:embed="codeSvg1"/g)).toHaveLength(1);
    expect(strFromU8(made['[Content_Types].xml']!)).toContain('image/svg+xml');
  });

  test('a code stands in the place of words, and in an empty paragraph', () => {
    const words = (paragraph: number, from: number, to: number) => ({
      kind: 'words' as const,
      part: 'word/document.xml',
      paragraph,
      from,
      to,
    });
    const ground = groundOf(
      bytes,
      {},
      {
        codes: [
          { id: 'k', stamp: stamp.id, widthMm: 20, heightMm: 20, at: words(2, 7, 11) },
          { id: 'l', stamp: stamp.id, widthMm: 20, heightMm: 20, at: words(3, 0, 0) },
        ],
      },
    );
    const made = new DocxMerge(bytes, ground).fill(
      {},
      new Map([
        ['k', square],
        ['l', square],
      ]),
      date,
    );
    const facts = inspectDocx(made);
    expect(facts.texts[0]!.paragraphs).toEqual(['a', 'b', 'put it  please', '']);
    expect(facts.pictures.map((p) => Math.round(p.widthMm))).toEqual([30, 40, 20, 20]);
    const ids = [...strFromU8(unzipSync(made)['word/document.xml']!).matchAll(/docPr id="(\d+)"/g)];
    expect(new Set(ids.map((m) => m[1])).size).toBe(4);
  });

  test.each([
    [30, 30],
    [50, 20],
    [12, 40],
  ])('a code in a place of %s × %s mm is in whole dots and reads', async (widthMm, heightMm) => {
    provideReader();
    const symbol = encode('qr', 'https://marrambay.example/l/L-0007');
    const { png, svg } = codePicture(symbol, stamp, { widthMm, heightMm });
    expect((await readImage(png, 'qr'))?.text).toBe('https://marrambay.example/l/L-0007');
    expect(strFromU8(svg)).toContain(`viewBox="0 0 ${widthMm} ${heightMm}"`);
  });
});

describe('what cannot be used is refused in words', () => {
  const relation = (type: string, target: string) =>
    `<Relationship Id="x" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/${type}" Target="${target}" TargetMode="External"/>`;
  const body = paragraph(run('x'));
  const ole = (text: string) =>
    Uint8Array.from([0xd0, 0xcf, 0x11, 0xe0, ...strToU8(text.split('').join('\0'))]);
  const bomb = zipSync({
    '[Content_Types].xml': strToU8('x'),
    'word/document.xml': new Uint8Array(210 * 2 ** 20),
  });
  const deep = `${'<w:p>'.repeat(500)}${'</w:p>'.repeat(500)}`;
  test.each<[string, Uint8Array, RegExp]>([
    ['a DOC', ole('WordDocument'), /DOC/],
    ['one with a password', ole('EncryptedPackage'), /password/],
    ['a PDF', strToU8('%PDF-1.7'), /PDF/],
    ['text', strToU8('Dear Odile'), /not a DOCX/],
    ['nothing', new Uint8Array(), /not a DOCX/],
    ['another ZIP', zipSync({ 'a.txt': strToU8('a') }), /not a DOCX/],
    ['half a file', letter.subarray(0, letter.length / 2), /damaged/],
    ['one that unpacks to more than 200 MB', bomb, /200 MB/],
    [
      'macros',
      docx({ body, mainType: 'application/vnd.ms-word.document.macroEnabled.main+xml' }),
      /macros/,
    ],
    ['macros under another type', docx({ body, more: { 'word/vbaProject.bin': 'x' } }), /macros/],
    [
      'a template',
      docx({
        body,
        mainType:
          'application/vnd.openxmlformats-officedocument.wordprocessingml.template.main+xml',
      }),
      /template/,
    ],
    [
      'a linked picture',
      docx({ body, relations: relation('image', 'http://marrambay.example/x.png') }),
      /elsewhere.*never downloads/,
    ],
    [
      'a field that takes text from elsewhere',
      docx({
        body: '<w:p><w:r><w:instrText> INCLUDETEXT "/etc/passwd" </w:instrText></w:r></w:p>',
      }),
      /never downloads/,
    ],
    ['a book', docx({ body: paragraph(run('word '.repeat(70_000))) }), /350,000 letters/],
    ['nested beyond measure', docx({ body: deep }), /nested/],
    [
      'a document type',
      docx({ body, more: { 'word/document.xml': '<!DOCTYPE x [<!ENTITY a "b">]><x/>' } }),
      /damaged/,
    ],
    ['no XML', docx({ body, more: { 'word/document.xml': '<w:document' } }), /damaged/],
  ])('%s', (_, bytes, words) => {
    expect(() => inspectDocx(bytes)).toThrow(words);
    try {
      inspectDocx(bytes);
    } catch (error) {
      expect((error as Error).name).toBe('DocumentError');
    }
  });
  test('a link is kept, and where a document came from is forgotten', () => {
    const bytes = docx({
      body,
      relations:
        relation('hyperlink', 'https://marrambay.example/').replace('"x"', '"y"') +
        relation('attachedTemplate', 'file:///home/x.dotm'),
    });
    const made = unzipSync(new DocxMerge(bytes, groundOf(bytes, {})).fill({}, noCodes, date));
    const rels = strFromU8(made['word/_rels/document.xml.rels']!);
    expect(rels).toContain('https://marrambay.example/');
    expect(rels).not.toContain('dotm');
  });
});

test('tracked changes are taken as accepted, comments left out, and both said', () => {
  const bytes = docx({
    body: `<w:p><w:r><w:t xml:space="preserve">For </w:t></w:r><w:del w:id="1"><w:r><w:delText>Hester</w:delText></w:r></w:del><w:ins w:id="2"><w:r><w:t>Odile</w:t></w:r></w:ins><w:commentRangeStart w:id="3"/><w:r><w:t xml:space="preserve"> Fenwick</w:t></w:r><w:commentRangeEnd w:id="3"/><w:r><w:commentReference w:id="3"/></w:r></w:p>`,
  });
  const facts = inspectDocx(bytes);
  expect(facts.texts[0]!.paragraphs).toEqual(['For Odile Fenwick']);
  expect(facts.notes).toEqual(['2 tracked changes taken as accepted', '1 comment left out']);
  const made = new DocxMerge(bytes, groundOf(bytes, odile)).fill(hester, noCodes, date);
  expect(textOf(made)).toEqual(['For Hester Lowe']);
  expect(strFromU8(unzipSync(made)['word/document.xml']!)).not.toMatch(/w:ins|w:del|comment/);
});

test('the copy for the screen says the same and names every run', () => {
  const shown = shownDocx(letter);
  expect(textOf(shown)).toEqual(textOf(letter));
  const xml = strFromU8(unzipSync(shown)['word/document.xml']!);
  expect(xml).toContain('w:name="hs-0-0-0"');
  expect(xml).toContain('w:name="hs-0-0-27"');
});

test('the demo’s example is found to be that of its loan, and its packets’ row is one', () => {
  const { texts, pictures, rows, notes } = inspectDocx(readFileSync('demo/loan-agreement.docx'));
  expect(pictures).toHaveLength(1);
  expect(rows).toHaveLength(5);
  expect(notes).toEqual([]);
  const own: Column[] = [
    { id: 'c1', name: 'Loan', role: 'key' },
    { id: 'c2', name: 'Borrower', role: 'name' },
    { id: 'c3', name: 'Due back', role: 'text' },
  ];
  const places = findPlaces(texts, own, {
    c1: 'LN-2026-002',
    c2: 'Long Strand Allotments',
    c3: '2027-10-15',
  });
  expect(places.filter((p) => !p.likely).map((p) => p.example)).toEqual([
    'Long Strand Allotments',
    'LN-2026-002',
    '15 October 2027',
    'Long Strand Allotments',
    'LONG STRAND ALLOTMENTS',
    'LN-2026-002',
  ]);
});

describe('what is wrong with a piece on another ground is told for each record', () => {
  const stamps = [{ ...stamp, parts: [{ kind: 'column' as const, column: 'c1' }] }];
  const fonts = new FontBook();
  const on = (ground: Ground): Piece => ({ stock: 'a4-21', elements: [], ground });
  const told = (piece: Piece, values: Values, of: readonly Stamp[] = stamps) =>
    judgingOf(piece)
      .problems(piece, of, values, fonts)
      .map((p) => p.reason);
  const code = (mm: number) => ({
    id: 'k',
    stamp: stamp.id,
    widthMm: mm,
    heightMm: mm,
    at: { kind: 'picture' as const, part: 'word/document.xml', picture: 0 },
  });
  const inDocument = (mm: number) =>
    on({ kind: 'document', document: 1, name: 'x', places: [], codes: [code(mm)], blocks: [] });
  const pdf = {
    document: 1,
    name: 'a.pdf',
    pages: [{ widthMm: 100, heightMm: 150, turn: 0 as const }],
    signed: false,
    of: 1,
  };
  const onPdfs = (sizeMm: number) =>
    on({
      kind: 'pdfs',
      set: 1,
      name: 'x',
      knownBy: 'name',
      column: 'c1',
      said: [],
      stamp: stamp.id,
      sizeMm,
      corner: 'top left',
      acrossMm: 10,
      downMm: 10,
      pages: 'first',
    });

  test.each<[string, (mm: number) => Piece]>([
    ['a document', inDocument],
    ['PDFs', onPdfs],
  ])('codes on %s: fine modules, what does not fit, a stamp that is gone', (_, piece) => {
    const values = { c1: 'L-0007', [pdfKey]: JSON.stringify(pdf) };
    expect(told(piece(20), values)).toEqual([]);
    expect(told(piece(4), values)).toEqual([
      expect.stringMatching(/its code has squares of 0\.\d\d mm/),
    ]);
    const bars = [{ ...stamps[0]!, symbology: 'ean-13' as const }];
    expect(told(piece(20), values, bars)).toHaveLength(1);
    expect(told(piece(20), values, [])).toEqual(['the stamp of its code was deleted']);
  });

  test('PDFs: none, two, over the edge', () => {
    expect(told(onPdfs(20), { c1: 'L-0007' })).toEqual(['there is no PDF for this record']);
    const two = { c1: 'L-0007', [pdfKey]: JSON.stringify({ ...pdf, of: 2 }) };
    expect(told(onPdfs(20), two)).toEqual(['there are 2 PDFs for this record']);
    const one = { c1: 'L-0007', [pdfKey]: JSON.stringify(pdf) };
    expect(told(onPdfs(95), one)).toEqual(['the code goes over the edge of page 1 of a.pdf']);
  });
});

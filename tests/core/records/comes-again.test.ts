import { strFromU8, unzipSync } from 'fflate';
import { DomUtils } from 'htmlparser2';
import { describe, expect, test } from 'vitest';
import { docx, inline, paragraph, run, table } from '../../../demo/docx';
import {
  blockInside,
  DocxJoin,
  DocxMerge,
  inspectDocx,
  rowsKey,
  type CodePicture,
} from '../../../src/core/documents';
import { htmlPart, inspectHtml } from '../../../src/core/documents/html';
import { HtmlMerge } from '../../../src/core/documents/html-fill';
import { codeKey, codesOf } from '../../../src/core/documents/words';
import { judgingOf } from '../../../src/core/grounds/judging';
import { FontBook } from '../../../src/core/artwork/fonts';
import { contentOf, firstStamp } from '../../../src/core/payload/stamp';
import type { Piece } from '../../../src/core/piece/model';
import type {
  DocumentBlock,
  DocumentCode,
  DocumentGround,
  DocumentPlace,
} from '../../../src/core/piece/ground';

const date = new Date('2026-11-26T09:00:00Z');
const main = 'word/document.xml';
const rows = [
  { c1: 'P-1', c2: 'Thrift' },
  { c1: 'P-2', c2: 'Marram' },
  { c1: 'P-3', c2: 'Sea kale' },
];
const block = (of: Partial<DocumentBlock>): DocumentBlock => ({
  id: 'b',
  part: main,
  goes: 0,
  list: 2,
  by: 'c9',
  is: 'c1',
  ...of,
});
/** A place that follows a column, marked where its words stand. */
function place(
  texts: readonly string[],
  example: string,
  column: string,
  more: Partial<DocumentPlace> = {},
): DocumentPlace {
  const at = texts.findIndex((text) => text.includes(example));
  const from = texts[at]!.indexOf(example);
  return {
    ...{ id: `p-${example}`, part: main, paragraph: at, from, to: from + example.length, example },
    parts: [{ kind: 'column', column }],
    blank: 'words',
    ...more,
  };
}
const ground = (of: Partial<DocumentGround>): DocumentGround => ({
  ...{ kind: 'document', document: 1, name: 'x', places: [], codes: [], blocks: [] },
  ...of,
});
const picture = (name: string): CodePicture => ({
  png: Buffer.from(`png of ${name}`),
  svg: Buffer.from(`svg of ${name}`),
  about: `Code of ${name}`,
});
const beside = (b: DocumentBlock, of = rows) => ({ [rowsKey(b)]: JSON.stringify(of) });
const paragraphsOf = (bytes: Uint8Array) => inspectDocx(bytes).texts[0]!.paragraphs;

/** Which files the pictures of a part show, in their order: of every picture both forms. */
function shownIn(bytes: Uint8Array, part = main): string[] {
  const files = unzipSync(bytes);
  const rels = strFromU8(files[part.replace('word/', 'word/_rels/') + '.rels']!);
  const targets = new Map(
    [...rels.matchAll(/Id="([^"]+)"[^>]*Target="([^"]+)"/g)].map(([, id, target]) => [id, target]),
  );
  return [...strFromU8(files[part]!).matchAll(/r:embed="([^"]+)"/g)].map(([, id]) =>
    strFromU8(files[`word/${targets.get(id)}`]!),
  );
}
const drawingIds = (bytes: Uint8Array) =>
  [...strFromU8(unzipSync(bytes)[main]!).matchAll(/docPr id="(\d+)"/g)].map(([, id]) => id);

/** The files of one document of all; none is there twice. */
async function filesOf(
  join: DocxJoin,
  of: readonly ReturnType<DocxJoin['record']>[],
): Promise<Map<string, Buffer>> {
  const files = new Map<string, Buffer>();
  for await (const { path, bytes } of join.files(of.length, async function* () {
    yield* of;
  })) {
    const parts: Uint8Array[] = [];
    for await (const part of bytes) parts.push(part);
    expect(files.has(path)).toBe(false);
    files.set(path, Buffer.concat(parts));
  }
  return files;
}

const inRow = docx({
  media: { 'code.png': Buffer.from('the example') },
  body: [
    table(
      [2000, 2000],
      [
        [paragraph(run('Packet')), paragraph(run('Code'))],
        [paragraph(run('P-118')), paragraph(inline('pic1', 1, 20, 20))],
      ],
    ),
    paragraph(inline('pic1', 2, 20, 20)),
  ].join(''),
});
const codeInRow: DocumentCode = {
  ...{ id: 'k', stamp: 's', widthMm: 20, heightMm: 20, block: 'b' },
  at: { kind: 'picture', part: main, picture: 0 },
};

describe('a code in a table row', () => {
  const b = block({ row: 1 });
  const g = ground({
    blocks: [b],
    places: [place(paragraphsOf(inRow), 'P-118', 'c1', { block: 'b' })],
    codes: [codeInRow],
  });
  const codes = new Map(rows.map((row, i) => [codeKey(codeInRow, i), picture(row.c1)]));

  test('is each row’s own, in both forms, and other pictures of the same file stay', () => {
    const made = new DocxMerge(inRow, g).fill(beside(b), codes, date);
    expect(paragraphsOf(made)).toEqual(['Packet', 'Code', 'P-1', '', 'P-2', '', 'P-3', '', '']);
    expect(shownIn(made)).toEqual([
      ...rows.flatMap(({ c1 }) => [`png of ${c1}`, `svg of ${c1}`]),
      'the example',
    ]);
    expect(new Set(drawingIds(made)).size).toBe(4);
    expect(strFromU8(unzipSync(made)[main]!)).toContain('Code of P-2');
  });

  test('a row without one has none, and never that of the example', () => {
    const without = new Map([...codes].filter(([key]) => key !== 'k 1'));
    const made = new DocxMerge(inRow, g).fill(beside(b), without, date);
    expect(shownIn(made).filter((file) => file.startsWith('png'))).toEqual([
      'png of P-1',
      'png of P-3',
    ]);
    expect(shownIn(made).filter((file) => file === 'the example')).toHaveLength(1);
  });

  test('in one document of all, no name of a picture stands for two', async () => {
    const join = new DocxJoin(new DocxMerge(inRow, g));
    const of = [rows, rows.slice(0, 1)].map((own, number) =>
      join.record(
        number,
        beside(b, own),
        new Map(own.map((row, i) => [codeKey(codeInRow, i), picture(`${row.c1} of ${number}`)])),
      ),
    );
    const files = await filesOf(join, of);
    const rels = files.get('word/_rels/document.xml.rels')!.toString();
    const ids = [...rels.matchAll(/Id="([^"]+)"/g)].map(([, id]) => id);
    expect(new Set(ids).size).toBe(ids.length);
    const target = (id: string) => new RegExp(`Id="${id}"[^>]*Target="([^"]+)"`).exec(rels)![1];
    const shown = [
      ...files
        .get(main)!
        .toString()
        .matchAll(/r:embed="(codePng[^"]+)"/g),
    ].map(([, id]) => files.get(`word/${target(id!)}`)!.toString());
    expect(shown).toEqual([
      'png of P-1 of 0',
      'png of P-2 of 0',
      'png of P-3 of 0',
      'png of P-1 of 1',
    ]);
  });

  test('codes in headers and notes have their own names, too', async () => {
    const type = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships/footnotes';
    const w = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
    const bytes = docx({
      header: paragraph(run('head')),
      body: `<w:p><w:r><w:t>text</w:t></w:r><w:r><w:footnoteReference w:id="2"/></w:r></w:p>`,
      relations: `<Relationship Id="notes" Type="${type}" Target="footnotes.xml"/>`,
      more: {
        'word/footnotes.xml': `<w:footnotes ${w}><w:footnote w:type="separator" w:id="-1"><w:p><w:r><w:separator/></w:r></w:p></w:footnote><w:footnote w:id="2"><w:p><w:r><w:t>here</w:t></w:r></w:p></w:footnote></w:footnotes>`,
      },
    });
    const at = (part: string, paragraph: number): DocumentCode => ({
      ...{ id: part, stamp: 's', widthMm: 20, heightMm: 20 },
      at: { kind: 'words', part, paragraph, from: 0, to: 4 },
    });
    const both = [at('word/footnotes.xml', 1), at('word/header1.xml', 0)];
    const join = new DocxJoin(new DocxMerge(bytes, ground({ codes: both })));
    const of = [0, 1].map((number) =>
      join.record(
        number,
        {},
        new Map(both.map(({ id }) => [id, picture(`${id.slice(5, 9)} ${number}`)])),
      ),
    );
    const files = await filesOf(join, of);
    const shown = (part: string) => {
      const rels = files.get(part.replace('word/', 'word/_rels/') + '.rels')!.toString();
      return [
        ...files
          .get(part)!
          .toString()
          .matchAll(/r:embed="(codePng[^"]+)"/g),
      ].map(([, id]) => {
        const [, target] = new RegExp(`Id="${id}"[^>]*Target="([^"]+)"`).exec(rels)!;
        return files.get(`word/${target}`)!.toString();
      });
    };
    expect(shown('word/footnotes.xml')).toEqual(['png of foot 0', 'png of foot 1']);
    expect(shown('word/header1-1.xml')).toEqual(['png of head 0']);
    expect(shown('word/header1-2.xml')).toEqual(['png of head 1']);
  });

  test('what of the example comes again is known by its numbers', () => {
    expect(blockInside(inRow, 'docx', b)).toEqual({ paragraphs: [2, 3], pictures: [0] });
    expect(() => blockInside(inRow, 'docx', block({ row: 7 }))).toThrow(/not the document/);
  });
});

describe('lines that come again', () => {
  const bytes = docx({
    body: [
      paragraph(run('For you:')),
      paragraph(run('P-118, Sea holly')),
      paragraph(run('kept dry')),
      paragraph(run('P-119, Sea rocket')),
      paragraph(run('kept cool')),
      paragraph(run('The end, P-118')),
    ].join(''),
  });
  const texts = paragraphsOf(bytes);
  const b = block({ lines: { from: 1, to: 2 }, goes: 2 });
  const places = [
    place(texts, 'P-118', 'c1', { block: 'b' }),
    place(texts, 'Sea holly', 'c2', { block: 'b' }),
    // what is said of the record itself in a line that comes again
    place(texts, 'dry', 'c7'),
    { ...place(texts, 'The end', 'c7'), id: 'end' },
  ];
  const at: DocumentCode['at'] = { kind: 'words', part: main, paragraph: 2, from: 0, to: 4 };
  const code: DocumentCode = {
    ...{ id: 'k', stamp: 's', widthMm: 20, heightMm: 20, block: 'b' },
    at,
  };
  const g = ground({ blocks: [b], places, codes: [code] });

  test('with words of the row and of the record, and a code of each in the place of words', () => {
    const codes = new Map(rows.map((row, i) => [codeKey(code, i), picture(row.c1)]));
    const made = new DocxMerge(bytes, g).fill({ ...beside(b), c7: 'moist' }, codes, date);
    expect(paragraphsOf(made)).toEqual([
      'For you:',
      ...['P-1, Thrift', ' moist', 'P-2, Marram', ' moist', 'P-3, Sea kale', ' moist'],
      'moist, P-118',
    ]);
    expect(shownIn(made).filter((file) => file.startsWith('png'))).toEqual([
      'png of P-1',
      'png of P-2',
      'png of P-3',
    ]);
  });
  test('no row leaves none of them', () => {
    const made = new DocxMerge(bytes, g).fill({ ...beside(b, []), c7: 'x' }, new Map(), date);
    expect(paragraphsOf(made)).toEqual(['For you:', 'x, P-118']);
  });
  test('more copies than a document holds are told before any is made', () => {
    const long = docx({ body: paragraph(run('word '.repeat(20_000))) });
    const one = block({ lines: { from: 0, to: 0 } });
    const many = Array.from({ length: 100 }, () => rows[0]!);
    const merge = new DocxMerge(long, ground({ blocks: [one] }));
    expect(() => merge.fill(beside(one, many), new Map(), date)).toThrow(
      /come 100 times, with 1 paragraph each time: more than one document can hold/,
    );
  });
  test('a document of nothing else keeps a paragraph', () => {
    const alone = docx({ body: paragraph(run('P-118')) });
    const one = block({ lines: { from: 0, to: 0 } });
    const merge = new DocxMerge(alone, ground({ blocks: [one] }));
    expect(paragraphsOf(merge.fill(beside(one, []), new Map(), date))).toEqual(['']);
  });
  test('lines across the cells of a row are the row', () => {
    const cells = docx({
      body: table(
        [1000, 1000],
        [
          [paragraph(run('a')), paragraph(run('b'))],
          [paragraph(run('c')), paragraph(run('d'))],
        ],
      ),
    });
    const across = block({ lines: { from: 2, to: 3 } });
    const merge = new DocxMerge(cells, ground({ blocks: [across] }));
    expect(paragraphsOf(merge.fill(beside(across), new Map(), date))).toEqual(
      'a b c d c d c d'.split(' '),
    );
  });
});

describe('a table filled cell by cell', () => {
  const label = [paragraph(run('P-118')), paragraph(inline('pic1', 1, 20, 20))].join('');
  const bytes = docx({
    media: { 'code.png': Buffer.from('the example') },
    body: table(
      [3000, 200, 3000],
      [
        [label, paragraph(), paragraph()],
        [paragraph(run('old')), paragraph(), paragraph(run('old'))],
      ],
    ),
  });
  const b = block({ row: 0, cell: 0, goes: 1 });
  const code: DocumentCode = { ...codeInRow };
  const g = ground({
    blocks: [b],
    places: [place(paragraphsOf(bytes), 'P-118', 'c1', { block: 'b' })],
    codes: [code],
  });
  const codes = new Map(rows.map((row, i) => [codeKey(code, i), picture(row.c1)]));

  test('three go into two rows, the narrow cell between stays, and no cell is without a paragraph', () => {
    const made = new DocxMerge(bytes, g).fill(beside(b), codes, date);
    expect(inspectDocx(made).rows.map((row) => row.cells?.length)).toEqual([3, 3]);
    expect(paragraphsOf(made)).toEqual(['P-1', '', '', 'P-2', '', 'P-3', '', '', '']);
    expect(shownIn(made).filter((file) => file.startsWith('png'))).toEqual([
      'png of P-1',
      'png of P-2',
      'png of P-3',
    ]);
    expect(strFromU8(unzipSync(made)[main]!)).not.toMatch(/<w:tc>(<w:tcPr>.*?<\/w:tcPr>)?<\/w:tc>/);
  });
});

describe('in a page', () => {
  const html = Buffer.from(
    `<table><tr><th>Packet</th></tr><tr><td>P-118 <img src="data:image/png;base64,iVBORw0KGgo=" width="90"></td></tr></table>
     <ul><li>P-118</li><li>P-119</li></ul><table><tr><td width="200"></td><td width="5"></td><td></td></tr></table><p>Bye</p>`,
  );
  const { texts } = inspectHtml(html);
  const words = texts[0]!.paragraphs;
  const filled = (g: Partial<DocumentGround>, b: DocumentBlock, of = rows) =>
    new HtmlMerge(html, ground({ kind: 'html', ...g, blocks: [b] })).fill(
      beside(b, of),
      new Map(rows.map((row, i) => [codeKey(codeInRow, i), { src: `cid:${row.c1}`, about: 'x' }])),
    );
  const sourcesOf = (root: ReturnType<typeof filled>) =>
    DomUtils.getElementsByTagName('img', root).map((image) => image.attribs.src);

  test('a code is each row’s own', () => {
    const b = block({ part: htmlPart, row: 1 });
    const root = filled(
      {
        places: [place(words, 'P-118', 'c1', { part: htmlPart, block: 'b' })],
        codes: [{ ...codeInRow, at: { kind: 'picture', part: htmlPart, picture: 0 } }],
      },
      b,
    );
    expect(sourcesOf(root)).toEqual(['cid:P-1', 'cid:P-2', 'cid:P-3']);
    expect(DomUtils.textContent(root)).toMatch(/P-1 .*P-2 .*P-3 /s);
    const none = filled(
      { codes: [{ ...codeInRow, at: { kind: 'picture', part: htmlPart, picture: 0 } }] },
      b,
      [...rows, { c1: 'P-4', c2: '' }],
    );
    expect(sourcesOf(none)).toHaveLength(3);
  });
  test('an entry of a list comes for each, and its like goes', () => {
    const at = words.lastIndexOf('P-118');
    const b = block({ part: htmlPart, lines: { from: at, to: at }, goes: 1 });
    const root = filled(
      {
        places: [
          {
            ...place(words, 'P-118', 'c2', { part: htmlPart, block: 'b' }),
            paragraph: at,
            from: 0,
            to: 5,
          },
        ],
      },
      b,
    );
    expect(DomUtils.getElementsByTagName('li', root).map((li) => DomUtils.textContent(li))).toEqual(
      ['Thrift', 'Marram', 'Sea kale'],
    );
  });
  test('cell by cell, from an empty one', () => {
    const number = inspectHtml(html).rows.length - 1;
    const [cell] = inspectHtml(html).rows[number]!.cells!;
    const b = block({ part: htmlPart, row: number, cell: 0 });
    const root = filled(
      {
        codes: [
          {
            ...codeInRow,
            at: { kind: 'words', part: htmlPart, paragraph: cell![0]!, from: 0, to: 0 },
          },
        ],
      },
      b,
    );
    const rowsMade = DomUtils.getElementsByTagName('tr', root).slice(-2);
    expect(rowsMade.map((row) => DomUtils.getElementsByTagName('td', row).length)).toEqual([3, 3]);
    expect(rowsMade.map((row) => DomUtils.getElementsByTagName('img', row).length)).toEqual([2, 1]);
    // all of its row goes with it
    expect(blockInside(html, 'html', b).paragraphs).toEqual([0, 1, 2].map((i) => cell![0]! + i));
  });
});

describe('codes of rows are judged with the record', () => {
  const stamp = {
    ...firstStamp([{ id: 'c1', name: 'Loan', role: 'key' }]),
    symbology: 'ean-13' as const,
  };
  const b = block({ row: 1 });
  const code: DocumentCode = {
    ...codeInRow,
    ...{ stamp: stamp.id, widthMm: 50, heightMm: 30 },
    says: [{ kind: 'column', column: 'c1' }],
  };
  const piece: Piece = {
    ...{ stock: 'a4-21', elements: [] },
    ground: ground({ blocks: [b], codes: [code] }),
  };
  const told = (values: Record<string, string>) =>
    judgingOf(piece)
      .problems(piece, [stamp], values, new FontBook())
      .map((p) => p.reason);
  test('what a row says is said by its own columns, and what does not fit is told once', () => {
    const of = codesOf(piece.ground as DocumentGround, [stamp], beside(b));
    expect(of.map((one) => contentOf(one.stamp!, one.values))).toMatchObject(
      rows.map(({ c1 }) => ({ payload: c1 })),
    );
    expect(told(beside(b, [{ c1: '2000000000008', c2: '' }]))).toEqual([]);
    expect(told(beside(b))).toHaveLength(1);
    expect(told(beside(b, [{ c1: '', c2: '' }]))).toEqual(['the code of one of its rows is blank']);
  });
  test('more rows than a document holds hold it back', () => {
    const many = Array.from({ length: 501 }, () => ({ c1: '2000000000008', c2: '' }));
    expect(told(beside(b, many))).toEqual([expect.stringMatching(/more than 500 rows/)]);
  });
  test('a change of a row is a change of what is printed', () => {
    const says = (of: typeof rows) =>
      JSON.stringify(judgingOf(piece).says(piece, [stamp], beside(b, of)));
    expect(says(rows)).not.toBe(says(rows.slice(1)));
  });
});

/**
 * Links of an example would lead everybody to the first person's page, unless they follow the
 * record: in a DOCX, where they are stored beside the text, and in HTML; also the page's title.
 */
import fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { DomUtils } from 'htmlparser2';
import { expect, test } from 'vitest';
import { docx, paragraph, run } from '../../../demo/docx';
import { DocxMerge, findPlaces, inspectDocx } from '../../../src/core/documents';
import { inspectHtml } from '../../../src/core/documents/html';
import { HtmlMerge } from '../../../src/core/documents/html-fill';
import { leftOver } from '../../../src/core/documents/left-over';
import { ledTo, readable } from '../../../src/core/documents/links';
import { FontBook } from '../../../src/core/artwork/fonts';
import { judgingOf } from '../../../src/core/grounds/judging';
import type { DocumentGround } from '../../../src/core/piece/ground';
import type { Piece } from '../../../src/core/piece/model';
import type { Column, Values } from '../../../src/core/records/columns';

const columns: Column[] = [
  { id: 'c1', name: 'Loan', role: 'key' },
  { id: 'c2', name: 'Borrower', role: 'name' },
  { id: 'c3', name: 'Page', role: 'address' },
];
const odile: Values = { c1: 'L-0007', c2: 'Odile Fenwick', c3: 'https://marrambay.example/odile' };
const hester: Values = { c1: 'L-0013', c2: 'Tom & Jo / 2', c3: 'https://marrambay.example/tom' };
const date = new Date('2026-11-26T09:00:00Z');

/** A letter with a link for one person. */
function linked(target: string): Uint8Array {
  const files = unzipSync(
    docx({ body: paragraph(run('Loan L-0007 of Odile Fenwick. ')) + paragraph(run('LINK')) }),
  );
  const part = 'word/document.xml';
  const text = strFromU8(files[part]!).replace(
    /<w:p>(?:(?!<w:p>).)*LINK(?:(?!<\/w:p>).)*<\/w:p>/s,
    '<w:p><w:hyperlink r:id="rIdLink" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><w:r><w:t>your page</w:t></w:r></w:hyperlink></w:p>',
  );
  const path = 'word/_rels/document.xml.rels';
  const rels = strFromU8(files[path]!).replace(
    '</Relationships>',
    `<Relationship Id="rIdLink" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/hyperlink" Target="${target}" TargetMode="External"/></Relationships>`,
  );
  return zipSync({ ...files, [part]: strToU8(text), [path]: strToU8(rels) });
}
function groundOf(bytes: Uint8Array): DocumentGround {
  const { texts } = inspectDocx(bytes);
  const places = findPlaces(texts, columns, odile);
  return { kind: 'document', document: 1, name: 'x.docx', places, codes: [], blocks: [] };
}
/** The targets of a document's links, by their text. */
function leadsOf(bytes: Uint8Array): string[] {
  const files = unzipSync(bytes);
  const rels = strFromU8(files['word/_rels/document.xml.rels']!);
  const text = strFromU8(files['word/document.xml']!);
  return [...text.matchAll(/<w:hyperlink[^>]* r:id="([^"]*)"/g)].map(
    ([, id]) => new RegExp(`Id="${id}"[^>]*Target="([^"]*)"`).exec(rels)![1]!,
  );
}
const problems = (ground: DocumentGround, values: Values) =>
  judgingOf({ ground } as unknown as Piece)
    .problems({ stock: '', elements: [], ground }, [], values, new FontBook())
    .map((p) => p.reason);

test('a link of a DOCX follows the record, and its values are written for where they are', () => {
  const bytes = linked('https://marrambay.example/loans/L-0007?for=Odile%20Fenwick');
  const ground = groundOf(bytes);
  expect(ground.places.filter((p) => p.leads).map((p) => p.example)).toEqual([
    'L-0007',
    'Odile Fenwick',
  ]);
  const merge = new DocxMerge(bytes, ground);
  const made = merge.fill(hester, new Map(), date);
  expect(leadsOf(made)).toEqual([
    'https://marrambay.example/loans/L-0013?for=Tom%20%26%20Jo%20%2F%202',
  ]);
  // nothing of the first person is called any more
  const text = strFromU8(unzipSync(made)['word/document.xml']!);
  expect(text).not.toMatch(/rIdLink|L-0007|Odile/);
  for (const bytes of Object.values(unzipSync(made)))
    expect(strFromU8(bytes, true)).not.toMatch(/L-0007|Odile/);
  expect(leadsOf(merge.fill(odile, new Map(), date))).toEqual([
    'https://marrambay.example/loans/L-0007?for=Odile%20Fenwick',
  ]);
});

test('a link that leads nowhere for a record holds it back, and is no link in what is made all the same', () => {
  const bytes = linked('https://marrambay.example/odile?from=letter');
  const { texts } = inspectDocx(bytes);
  const at = texts[0]!.leads![0]!;
  const place = {
    ...groundOf(bytes).places[0]!,
    id: 'page',
    paragraph: at,
    from: 0,
    to: odile.c3!.length,
    example: odile.c3!,
    parts: [{ kind: 'column' as const, column: 'c3' }],
    leads: texts[0]!.paragraphs[at]!,
  };
  const ground = { ...groundOf(bytes), places: [place] };
  // the address of a column keeps what the example has after it
  const merge = new DocxMerge(bytes, ground);
  expect(leadsOf(merge.fill(hester, new Map(), date))).toEqual([
    'https://marrambay.example/tom?from=letter',
  ]);
  expect(problems(ground, hester)).toEqual([]);
  for (const c3 of ['', '(no email address)', 'javascript:alert(1)']) {
    expect(problems(ground, { ...hester, c3 })).toEqual([
      expect.stringContaining('leads nowhere for this record'),
    ]);
    expect(leadsOf(merge.fill({ ...hester, c3 }, new Map(), date))).toEqual([]);
  }
});

test('an address with something after it stays a link in a mail, and the page is called after the record', () => {
  const page = strToU8(
    `<html><head><title>Loan L-0007</title></head><body><p>Dear Odile Fenwick</p>
     <p><a href="https://marrambay.example/odile?utm=mail#top">your page</a></p></body></html>`,
  );
  const { texts } = inspectHtml(page);
  const places = findPlaces(texts, columns, odile);
  const merge = new HtmlMerge(page, {
    kind: 'html',
    document: 1,
    name: 'x.html',
    places,
    codes: [],
    blocks: [],
  });
  const made = merge.fill(hester, new Map());
  const [link] = DomUtils.getElementsByTagName('a', made);
  expect(link!.attribs.href).toBe('https://marrambay.example/tom?utm=mail#top');
  expect(DomUtils.textContent(DomUtils.getElementsByTagName('title', made))).toBe('Loan L-0013');
  expect(DomUtils.getOuterHTML(made)).not.toMatch(/L-0007|Odile|odile/);
});

test('mail and telephone links take their values as they are', () => {
  const after = (text: string, words: string) =>
    ledTo(text, [{ from: text.indexOf(':') + 1, to: text.length, words }]);
  expect(after('mailto:ada@garden.example', 'tom@garden.example')).toBe(
    'mailto:tom@garden.example',
  );
  expect(after('tel:+441', ' +44 20 7946')).toBe('tel:+44207946');
});

test('any value in a link is the one that a browser reads there again', () => {
  fc.assert(
    fc.property(
      fc.string({ minLength: 1 }).filter((s) => s.trim() !== '' && !/[\p{Cs}\p{Cc}]/u.test(s)),
      (value) => {
        const text = 'https://marrambay.example/p?who=Odile&x=1';
        const from = text.indexOf('Odile');
        const to = ledTo(text, [{ from, to: from + 5, words: value }])!;
        expect(new URL(to).searchParams.get('who')).toBe(value.trim());
        expect(new URL(to).searchParams.get('x')).toBe('1');
      },
    ),
  );
  expect(readable('https://a.example/%41')).toBe('https://a.example/%41');
});

test('a value that several columns have is asked for, and nothing is made before', () => {
  const prices: Column[] = [
    { id: 'c1', name: 'Loan', role: 'key' },
    { id: 'c2', name: 'Price', role: 'text' },
    { id: 'c3', name: 'Price before', role: 'text' },
  ];
  const bytes = docx({ body: paragraph(run('L-0007 costs 12.50, was 12.50 before.')) });
  const { texts } = inspectDocx(bytes);
  const same = findPlaces(texts, prices, { c1: 'L-0007', c2: '12.50', c3: '12.50' });
  expect(same.map((p) => [p.example, p.likely, p.among])).toEqual([
    ['L-0007', undefined, undefined],
    ['12.50', true, ['c2', 'c3']],
    ['12.50', true, ['c2', 'c3']],
  ]);
  const ground: DocumentGround = { ...groundOf(bytes), places: same };
  expect(problems(ground, { c1: 'L-0013', c2: '9', c3: '10' })).toEqual([
    expect.stringContaining('“12.50” in the document is the value of several columns'),
    expect.stringContaining('“12.50”'),
  ]);
  // once they were chosen nothing is asked any more
  const chosen = same.map((place, i) => ({
    ...place,
    likely: undefined,
    among: undefined,
    parts: [{ kind: 'column' as const, column: `c${i + 1}` }],
  }));
  expect(problems({ ...ground, places: chosen }, { c1: 'L-0013', c2: '9', c3: '10' })).toEqual([]);
  // two columns with other values need no question
  const other = findPlaces(texts, prices, { c1: 'L-0007', c2: '12.50', c3: '14' });
  expect(other.some((p) => p.among)).toBe(false);
});

test('what is still of the example in another’s document is told, and what both share is not', () => {
  const left = (texts: string[]) => leftOver(texts, columns, odile, hester);
  expect(left(['Dear Hester, your loan L-0013'])).toEqual([]);
  expect(left(['<a href="https://marrambay.example/odile?x">'])).toEqual([
    { column: 'c3', value: odile.c3 },
  ]);
  expect(left(['for=Odile%20Fenwick', 'L-00071'])).toEqual([
    { column: 'c1', value: 'L-0007' },
    { column: 'c2', value: 'Odile Fenwick' },
  ]);
  expect(left(['Odile\u00a0 Fenwick']).map((l) => l.value)).toEqual(['Odile Fenwick']);
  const same = { ...hester, c2: 'Mrs Odile Fenwick' };
  expect(leftOver(['Odile Fenwick'], columns, odile, same)).toEqual([]);
});

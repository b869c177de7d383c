import { zipSync } from 'fflate';
import { DomUtils } from 'htmlparser2';
import { describe, expect, test } from 'vitest';
import {
  cleanCss,
  htmlPart,
  htmlText,
  inspectHtml,
  isHtml,
  openHtml,
} from '../../../src/core/documents/html';
import { HtmlMerge, shownHtml, wordsOfHtml } from '../../../src/core/documents/html-fill';
import { findPlaces, rowsKey } from '../../../src/core/documents';
import type { DocumentGround, DocumentPlace } from '../../../src/core/piece/ground';
import type { Column, Values } from '../../../src/core/records/columns';

const columns: Column[] = [
  { id: 'c1', name: 'Friend no', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
  { id: 'c3', name: 'Since', role: 'text' },
  { id: 'c4', name: 'Town', role: 'text' },
];
const imke = { c1: 'F00003', c2: 'Imke Orme', c3: '2002-04-01', c4: 'Eelmouth' };
const tam = { c1: 'F00001', c2: 'Tam Mereweather', c3: '2026-02-11', c4: '' };
const dot = 'data:image/png;base64,iVBORw0KGgo=';

const page = (body: string, head = '') =>
  Buffer.from(
    `<!doctype html><html><head><meta charset="utf-8">${head}</head><body style="background:#eee">${body}</body></html>`,
  );
const letter = page(
  `<h1>Hello Imke</h1>
   <p>Dear <b>Imke</b>
      Orme of Eelmouth,<br>a friend since 1 April 2002.</p>
   <p>Number&nbsp;F00003</p>
   <img src="${dot}" width="120" height="120" alt="Code">
   <table><tbody><tr><td>Sea kale</td><td>F00003</td></tr><tr><td>Thrift</td><td>F00003</td></tr></tbody></table>`,
  '<style>p { color: #333; } body { margin: 0 }</style><title>For Imke Orme</title>',
);

const groundOf = (
  bytes: Uint8Array,
  change: Partial<DocumentGround> = {},
  values: Values = imke,
): DocumentGround => ({
  kind: 'html',
  document: 1,
  name: 'a.html',
  places: findPlaces(inspectHtml(bytes).texts, columns, values).map((p) => ({
    ...p,
    likely: undefined,
  })),
  codes: [],
  blocks: [],
  ...change,
});
const filled = (bytes: Uint8Array, ground: DocumentGround, values: Values, codes = new Map()) =>
  new HtmlMerge(bytes, ground).fill(values, codes);

test('a page is told from a document by its name, a ZIP of one too', () => {
  expect(isHtml('a.HTM', letter)).toBe(true);
  expect(isHtml('a.zip', zipSync({ 'a.html': letter }))).toBe(true);
  expect(isHtml('a.docx', zipSync({ 'a.html': letter }))).toBe(false);
});

test('what is known of a record is found, over elements and line breaks of the file', () => {
  const { texts, pictures, rows } = inspectHtml(letter);
  expect(texts[0]!.part).toBe(htmlPart);
  expect(texts[0]!.paragraphs.map((p) => p.trim())).toEqual([
    'Hello Imke',
    'Dear Imke Orme of Eelmouth,\na friend since 1 April 2002.',
    'Number\u00a0F00003',
    'Sea kale',
    'F00003',
    'Thrift',
    'F00003',
    // the title of the page, after everything that is seen in it
    'For Imke Orme',
  ]);
  expect(pictures[0]).toMatchObject({ about: 'Code', widthMm: 31.75, heightMm: 31.75 });
  expect(rows.map((r) => r.paragraphs)).toEqual([
    [3, 4],
    [5, 6],
  ]);
  const found = findPlaces(texts, columns, imke).map((p) => p.example);
  expect(found).toContain('Imke Orme');
  expect(found).toContain('1 April 2002');
  expect(found).toContain('Eelmouth');
});

test('another record has its own values in the same forms and looks; a blank takes its words with a space', () => {
  const root = filled(letter, groundOf(letter), tam);
  expect(wordsOfHtml(root)).toBe(
    [
      'Hello Tam',
      'Dear Tam Mereweather of,\na friend since 11 February 2026.',
      'Number\u00a0F00001',
      'Sea kale',
      'F00001',
      'Thrift',
      'F00001',
    ].join('\n\n'),
  );
  // in the looks of the piece in which it began
  expect(htmlText(root)).toContain('<b>Tam Mereweather</b>');
  expect(htmlText(root)).toContain('<style>p { color: #333; } body { margin: 0 }</style>');
});

test('the page of its own record is the page', () => {
  const { root } = openHtml(letter);
  expect(htmlText(filled(letter, groundOf(letter), imke)).replace(/<b>Imke Orme<\/b>/, '')).toBe(
    htmlText(root).replace(/<b>Imke<\/b> Orme/, ''),
  );
});

test('values are text and no markup, and their line breaks are line breaks', () => {
  const root = filled(letter, groundOf(letter), {
    ...tam,
    c2: '<img src=x onerror=alert(1)>\n& "Co"',
  });
  expect(DomUtils.getElementsByTagName('img', root)).toHaveLength(1);
  expect(htmlText(root)).toContain('&lt;img src=x onerror=alert(1)&gt;<br>&amp; "Co"');
});

test('a link leads where the record says, with its values in their places, and never to what runs', () => {
  const bytes = page(
    '<p>Imke Orme</p><p><a href="https://a.example/f/F00003?n=Imke%20Orme">here</a> <a href="https://b.example/F00003">F00003</a> <a href="#no">no</a></p>',
  );
  const links = (ground: DocumentGround, values: Values) =>
    DomUtils.getElementsByTagName('a', filled(bytes, ground, values)).map((a) => a.attribs.href);
  expect(links(groundOf(bytes), { ...tam, c1: 'F/1' })).toEqual([
    'https://a.example/f/F%2F1?n=Tam%20Mereweather',
    'https://b.example/F%2F1',
    '#no',
  ]);
  const whole: DocumentPlace = {
    id: 'w',
    part: htmlPart,
    paragraph: 3,
    from: 0,
    to: 'https://b.example/F00003'.length,
    example: 'https://b.example/F00003',
    parts: [{ kind: 'column', column: 'c4' }],
    blank: 'words',
  };
  const all = groundOf(bytes, { places: [whole] });
  expect(links(all, { ...tam, c4: 'https://c.example/' })[1]).toBe('https://c.example/');
  expect(links(all, { ...tam, c4: ' javascript:alert(1)' })[1]).toBeUndefined();
  expect(wordsOfHtml(filled(bytes, groundOf(bytes), tam))).not.toContain('a.example');
});

test('a line that is blank for somebody goes', () => {
  const bytes = page('<p>Dear Imke Orme</p><p>Town: Eelmouth</p><ul><li>Eelmouth</li></ul>');
  const ground = groundOf(bytes);
  const line = ground.places.map((p): DocumentPlace => ({ ...p, blank: 'line' }));
  expect(htmlText(filled(bytes, { ...ground, places: line }, tam))).toContain(
    '<p>Dear Tam Mereweather</p><ul></ul>',
  );
});

test('a picture becomes a code at its size, and one comes in the place of words and in an empty cell', () => {
  const bytes = page(`<p>Code: here</p><img src="${dot}"><table><tr><td></td></tr></table>`);
  const at = (paragraph: number, from: number, to: number) =>
    ({ kind: 'words', part: htmlPart, paragraph, from, to }) as const;
  const size = { stamp: 's', widthMm: 25.4, heightMm: 25.4 };
  const ground = groundOf(bytes, {
    places: [],
    codes: [
      { id: 'a', ...size, at: { kind: 'picture', part: htmlPart, picture: 0 } },
      { id: 'b', ...size, at: at(0, 6, 10) },
      { id: 'c', ...size, at: at(1, 0, 0) },
    ],
  });
  const codes = new Map(
    ['a', 'b', 'c'].map((id) => [id, { src: `cid:${id}`, about: `Code ${id}` }]),
  );
  const pictures = DomUtils.getElementsByTagName('img', filled(bytes, ground, imke, codes));
  expect(pictures.map((p) => p.attribs)).toEqual([
    { src: 'cid:b', alt: 'Code b', width: '96', height: '96' },
    { src: 'cid:a', alt: 'Code a', width: '96' },
    { src: 'cid:c', alt: 'Code c', width: '96', height: '96' },
  ]);
});

test('a table row comes once for each row that belongs to the record', () => {
  const ground = groundOf(letter, {
    places: [
      {
        id: 'r',
        part: htmlPart,
        paragraph: 3,
        from: 0,
        to: 8,
        example: 'Sea kale',
        parts: [{ kind: 'column', column: 'v' }],
        blank: 'words',
        block: 'b',
      },
    ],
    blocks: [{ id: 'b', part: htmlPart, row: 0, goes: 1, list: 2, by: 'x', is: 'c1' }],
  });
  const rows = (list: Values[]) =>
    DomUtils.getElementsByTagName(
      'tr',
      filled(letter, ground, { ...tam, [rowsKey({ id: 'b' })]: JSON.stringify(list) }),
    ).map((row) => DomUtils.textContent(row));
  expect(rows([{ v: 'Poppy' }, { v: 'Kelp' }, { v: 'Marram' }])).toEqual([
    'PoppyF00003',
    'KelpF00003',
    'MarramF00003',
  ]);
  expect(rows([])).toEqual([]);
});

describe('nothing of a page runs, asks or is fetched', () => {
  test.each([
    ['a script', '<p>x</p><script>fetch("//a.example")</script>'],
    ['a handler', '<p onclick="x()">x</p>'],
    ['an address that runs', '<p><a href="javascript:x()">x</a></p>'],
    ['a frame', '<p>x</p><iframe src="https://a.example"></iframe>'],
    ['a form', '<form action="https://a.example"><p>x</p><input name="a"></form>'],
    ['a drawing that runs', '<p>x</p><svg><script>x()</script></svg>'],
    ['an object', '<p>x</p><object data="https://a.example"></object>'],
    [
      'a picture of elsewhere',
      '<p>x</p><img src="https://a.example/p.png" srcset="//b.example 2x">',
    ],
    ['a picture of no scheme', '<p>x</p><img src="//a.example/p.png">'],
    ['a ground of elsewhere', '<p style="background:url(https://a.example/p.png)">x</p>'],
    ['a ground in disguise', '<p style="background:u\\72l(https://a.example/p.png)">x</p>'],
    [
      'styles of elsewhere',
      '<style>@import "https://a.example/a.css"; p{color:red}</style><p>x</p>',
    ],
    [
      'letters of elsewhere',
      '<style>@font-face{font-family:a;src:url(https://a.example/f)}</style><p>x</p>',
    ],
    ['a style that ends itself', '<style>p{color:red}</style\n><script>x()</script><p>x</p>'],
    [
      'another page',
      '<p>x</p><meta http-equiv="refresh" content="0;url=https://a.example"><base href="https://a.example">',
    ],
    ['what covers the screen', '<p style="position:fixed;top:0">x</p>'],
  ])('%s', (_what, body) => {
    const text = htmlText(openHtml(page(body)).root);
    expect(text).not.toMatch(
      /a\.example|b\.example|onclick|javascript:|<script|<form|<input|<iframe|<object|position/i,
    );
    expect(wordsOfHtml(openHtml(page(body)).root)).toContain('x');
    expect(shownHtml(page(body))).not.toMatch(/a\.example|<script/i);
  });

  test('and it is said what was left out', () => {
    const { notes } = openHtml(
      page(
        '<p>x</p><img src="https://a.example/1"><img src="https://a.example/2"><script>1</script>',
      ),
    );
    expect(notes).toEqual([
      '2 pictures lie elsewhere and were not fetched',
      '1 part that runs or asks something left out',
    ]);
  });

  test('styles keep what they may', () => {
    expect(cleanCss(`color: red; background: url("${dot}") no-repeat`)).toBe(
      `color: red; background: url("${dot}") no-repeat`,
    );
    expect(cleanCss('@media (max-width: 600px) { p { width: 100% } }')).toContain('max-width');
    expect(cleanCss('p { color: red')).toBe('');
  });
});

test('pictures beside a page come in with it from a ZIP, and nothing from outside of it', () => {
  const zip = zipSync({
    'mail/index.html': page('<p>Imke Orme</p><img src="a%20b.png"><img src="../../../etc/x.png">'),
    'mail/a b.png': new Uint8Array([137, 80, 78, 71]),
    'etc/x.png': new Uint8Array([1]),
  });
  const pictures = DomUtils.getElementsByTagName('img', openHtml(zip).root);
  expect(pictures[0]!.attribs.src).toBe('data:image/png;base64,iVBORw==');
  expect(pictures[1]!.attribs.src).toMatch(/^data:image\/gif/);
  expect(() => openHtml(zipSync({ 'a.txt': letter }))).toThrow('no page in this ZIP');
  expect(() => openHtml(zipSync({ 'a.html': letter, 'b.html': letter }))).toThrow('2 pages');
  expect(() =>
    openHtml(zipSync({ 'a.html': letter, 'big.png': new Uint8Array(41 * 2 ** 20) })),
  ).toThrow('40 MB');
});

test.each([
  ['utf-8 that says so', page('<p>Καρρά ń</p>')],
  [
    'utf-16',
    Buffer.concat([
      Buffer.from([0xff, 0xfe]),
      Buffer.from('<html><p>Καρρά ń</p></html>', 'utf16le'),
    ]),
  ],
])('letters come in as they were written: %s', (_name, bytes) => {
  expect(wordsOfHtml(openHtml(bytes).root)).toBe('Καρρά ń');
});

test('a page in an older code is read by what it says, or as Western', () => {
  const latin = Buffer.from('<html><p>Café</p></html>', 'latin1');
  expect(wordsOfHtml(openHtml(latin).root)).toBe('Café');
  const cyrillic = Buffer.concat([
    Buffer.from('<html><meta charset="windows-1251"><p>'),
    Buffer.from([0xcf, 0xe5]),
    Buffer.from('</p></html>'),
  ]);
  expect(wordsOfHtml(openHtml(cyrillic).root)).toBe('Пе');
});

test('what is no page is refused, and so is one that is too large', () => {
  expect(() => openHtml(Buffer.from('just words'))).toThrow('not an HTML page');
  expect(() => openHtml(Buffer.alloc(11 * 2 ** 20, 'a'))).toThrow('10 MB');
  expect(() => inspectHtml(page(`<p>${'a'.repeat(300_001)}</p>`))).toThrow('300,000');
  const deep = page('<div>'.repeat(5000) + 'x' + '</div>'.repeat(5000));
  expect(inspectHtml(deep).texts[0]!.paragraphs.length).toBeGreaterThan(0);
});

test('the copy for the screen names every stretch, and no name of the page is taken for one', () => {
  const shown = shownHtml(
    page('<p id="hs-0-0-0">Imke <b>Orme</b></p><table><tr><td></td></tr></table>'),
  );
  expect(shown).toContain('<p><span id="hs-0-0-0"></span><span class="hs-run">Imke </span>');
  expect(shown).toContain('<b><span id="hs-0-0-5"></span><span class="hs-run">Orme</span></b>');
  expect(shown).toContain('<td><span id="hs-row-0-0"></span><span id="hs-0-1-0"></span></td>');
  expect(shown).toContain('class="docx hs-body" style="background:#eee"');
});

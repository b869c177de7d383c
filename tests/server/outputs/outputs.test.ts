import { viewSchema, type NewRun } from '../../../src/contract';
import { defaultLook } from '../../../src/core/look/look';
import { keep } from '../../../src/server/jobs/kept';
import { createHash } from 'node:crypto';
import { createServer } from 'node:http';
import { unzipSync } from 'fflate';
import { parse } from 'csv-parse/sync';
import exceljs from 'exceljs';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { stockById } from '../../../src/core/piece/stock';
import { starters } from '../../../src/core/piece/starters';
import type { Output } from '../../../src/core/run/outputs';
import {
  codeAt,
  giveAddresses,
  addressRows,
  withdrawAddresses,
} from '../../../src/server/links/code-addresses';
import { editCells, removeRecords } from '../../../src/server/lists/edits';
import { createJob, createList } from '../../../src/server/lists/lists';
import { changeJob, ledgerRows, viewJob } from '../../../src/server/jobs/jobs';
import { listLetters } from '../../../src/server/delivery/letters';
import { fetchPictures, keepListPicture } from '../../../src/server/lists/list-pictures';
import { writeSettings } from '../../../src/server/platform/settings';
import {
  addPrinter,
  changePrinter,
  listPrinters,
  sendToPrinter,
  stopPrint,
  testPage,
} from '../../../src/server/delivery';
import { receiptPdf } from '../../../src/server/runs/receipt-pdf';
import { compareRuns, viewRun } from '../../../src/server/runs/run-views';
import { removeRun, runAgain, startRun } from '../../../src/server/runs/runs';
import { readAll } from '../../helpers/barcode';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';
import { pdfText, renderPdf } from '../../helpers/poppler';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());

const runs = runsIn(() => t);
const { work, bytesOf } = runs;

const headings = ['No', 'Name', 'Token', 'Copies', 'Photo'];
const people: string[][] = [
  ['001', 'Ines Okafor', 'k7m2', '2', 'ines.png'],
  ['002', 'Tam / Bell: "x"', 'p9q4', '', 'none.png'],
  ['003', 'Keiko 桂子', 'r3s8', '0', ''],
  ['004', 'ines okafor', 'z1y5', '3', ''],
];

const job = (rows = people) => runs.job(headings, ['key', 'name', 'text', 'text', 'picture'], rows);
async function run(jobId: number, wanted: Partial<NewRun> = {}): Promise<number> {
  const id = await runs.run(jobId, wanted);
  expect(await viewRun(t.db, id)).toMatchObject({ state: 'done', failed: 0 });
  return id;
}
const hash = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const records = (list: number) =>
  t.db
    .selectFrom('records')
    .select(['id', 'values'])
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();

describe('what a run makes', () => {
  test('a ZIP of pictures, safely and uniquely named from a column, every one of them read', async () => {
    const { id } = await job();
    const made = await run(id, {
      output: { kind: 'images', format: 'png', sizeMm: 30, dpi: 300, nameFrom: 'c2' },
    });
    const files = unzipSync(await bytesOf(made, '.zip'));
    expect(Object.keys(files).sort()).toEqual(
      [
        'Weekend/Ines Okafor.png',
        'Weekend/Keiko 桂子.png',
        'Weekend/Tam - Bell- -x.png',
        'Weekend/ines okafor-2.png',
        'Weekend/list.csv',
      ].sort(),
    );
    const read = async (name: string) => (await readAll(Buffer.from(files[name]!)))[0]?.text;
    expect(await read('Weekend/Ines Okafor.png')).toBe('001');
    expect(await read('Weekend/ines okafor-2.png')).toBe('004');
    const list = parse(Buffer.from(files['Weekend/list.csv']!), {
      columns: true,
      bom: true,
    }) as Record<string, string>[];
    expect(list[0]).toEqual({
      No: '001',
      Name: 'Ines Okafor',
      Copies: '2',
      Photo: 'ines.png',
      'No, payload': '001',
      Files: 'Ines Okafor.png',
    });
    expect((await viewRun(t.db, made)).read).toBe(4);
  });

  test.each([
    ['svg', 'svg'],
    ['eps', 'eps'],
    ['pdf', 'pdf'],
    ['jpeg', 'jpg'],
  ] as const)('pictures as %s', async (format, ending) => {
    const { id } = await job(people.slice(0, 1));
    const files = unzipSync(
      await bytesOf(await run(id, { output: { kind: 'images', format } }), '.zip'),
    );
    const bytes = Buffer.from(files[`Weekend/001.${ending}`]!);
    if (format === 'pdf') expect((await readAll(renderPdf(bytes, 600)[0]!))[0]!.text).toBe('001');
    if (format === 'jpeg') expect((await readAll(bytes))[0]!.text).toBe('001');
    if (format === 'svg') expect(bytes.toString()).toMatch(/^<svg /);
    if (format === 'eps') expect(bytes.toString()).toMatch(/^%!PS-Adobe-3.* EPSF/);
  });

  test('a PDF for each record, each with its own name and code', async () => {
    const { id } = await job();
    const files = unzipSync(await bytesOf(await run(id, { output: { kind: 'pdf-each' } }), '.zip'));
    for (const [no, name] of people) {
      const pdf = Buffer.from(files[`Weekend/${no}.pdf`]!);
      expect(pdfText(pdf).replace(/\s+/g, ' ')).toContain(name!.split(' ')[0]);
      expect((await readAll(renderPdf(pdf, 300)[0]!))[0]!.text).toBe(no);
    }
    const { rows } = await ledgerRows(t.db, id, { ...viewSchema.parse({}), offset: 0, limit: 10 });
    expect(rows.every((r) => r.marks.run === 'ready')).toBe(true);
  });

  test('the list as XLSX, each code a picture beside its row, cells as text, secrets left out', async () => {
    const { id } = await job();
    const book = new exceljs.Workbook();
    await book.xlsx.load(
      (await bytesOf(
        await run(id, { output: { kind: 'xlsx' } }),
        '.xlsx',
      )) as unknown as ArrayBuffer,
    );
    const sheet = book.worksheets[0]!;
    expect((sheet.getRow(1).values as string[]).slice(1)).toEqual([
      'No',
      'Name',
      'Copies',
      'Photo',
      'No',
    ]);
    expect(sheet.getCell('A2').value).toBe('001');
    const images = sheet.getImages();
    expect(images).toHaveLength(4);
    for (const image of images) {
      const { buffer } = book.getImage(Number(image.imageId));
      expect((await readAll(Buffer.from(buffer as unknown as Uint8Array)))[0]!.text).toBe(
        people[image.range.tl.nativeRow - 1]![0],
      );
    }
    await book.xlsx.load(
      (await bytesOf(
        await run(id, { output: { kind: 'xlsx', secrets: true } }),
        '.xlsx',
      )) as unknown as ArrayBuffer,
    );
    expect((book.worksheets[0]!.getRow(1).values as string[])[3]).toBe('Token');
  });

  test('the list as CSV, and a page with all codes that needs nothing else', async () => {
    const { id } = await job();
    const csv = parse(await bytesOf(await run(id, { output: { kind: 'csv' } }), '.csv'), {
      columns: true,
      bom: true,
    }) as Record<string, string>[];
    expect(csv[2]).toEqual({
      No: '003',
      Name: 'Keiko 桂子',
      Copies: '0',
      Photo: '',
      'No, payload': '003',
    });
    const html = (await bytesOf(await run(id, { output: { kind: 'html' } }), '.html')).toString();
    expect(html.match(/data:image\/svg\+xml;base64,/g)).toHaveLength(4);
    expect(html).toContain('Tam / Bell: &quot;x&quot;');
    expect(html).not.toMatch(/(src|href)="(?!data:)/);
  });

  test('copies from a column: a number, none for 0, one for a blank', async () => {
    const { id } = await job();
    const { document, version } = await viewJob(t.db, id);
    await changeJob(
      t.db,
      id,
      { version, document: { ...document, options: { ...document.options, copiesFrom: 'c4' } } },
      'test',
    );
    const made = await run(id);
    const codes = (
      await Promise.all(renderPdf(await bytesOf(made, '.pdf'), 300).map((p) => readAll(p)))
    )
      .flat()
      .map((c) => c.text);
    expect(codes.sort()).toEqual(['001', '001', '002', '004', '004', '004']);
  });
});

describe('a piece', () => {
  test('with two sides: fronts and backs alternate, backs lie mirrored, and both are read', async () => {
    const { id, columns } = await job();
    const { document, version } = await viewJob(t.db, id);
    const piece = {
      ...starters.find((s) => s.id === 'postcard')!.make(document.stamps[0]!, columns),
      stock: 'a4-4',
    };
    await changeJob(t.db, id, { version, document: { ...document, piece } }, 'test');
    const pages = renderPdf(
      await bytesOf(
        await run(id, {
          which: 'ticked',
          ticked: (await records((await viewJob(t.db, id)).list.id)).slice(0, 1).map((r) => r.id),
        }),
        '.pdf',
      ),
      200,
    );
    expect(pages).toHaveLength(2);
    expect(await readAll(pages[0]!)).toEqual([]);
    const [code] = await readAll(pages[1]!);
    expect(code!.text).toBe('001');
    // the first place is at the left; seen from behind it is at the right
    expect(Math.min(...code!.corners.map((c) => c.x))).toBeGreaterThan((105 / 25.4) * 200);
  });

  test('with pictures from a column: each record has its own, a missing one is marked', async () => {
    const { id, list } = await job();
    const svg = Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="40"><rect width="40" height="40" fill="#cc0000"/></svg>',
    );
    await keepListPicture(t.db, list, 'Photos/INES.png', svg);
    const { document, version } = await viewJob(t.db, id);
    const picture = {
      kind: 'picture' as const,
      id: 'photo',
      x: 4,
      y: 20,
      width: 10,
      height: 10,
      column: 'c5',
    };
    await changeJob(
      t.db,
      id,
      {
        version,
        document: {
          ...document,
          piece: { ...document.piece, elements: [...document.piece.elements, picture] },
        },
      },
      'test',
    );
    const { rows } = await ledgerRows(t.db, id, { ...viewSchema.parse({}), offset: 0, limit: 10 });
    expect(rows.map((r) => r.notes.map((n) => n.text))).toEqual([
      [],
      ['has no picture called none.png'],
      [],
      [],
    ]);
    const made = await run(id);
    const { execFileSync } = await import('node:child_process');
    const { mkdtempSync, writeFileSync } = await import('node:fs');
    const folder = mkdtempSync('/tmp/pictures-');
    writeFileSync(`${folder}/in.pdf`, await bytesOf(made, '.pdf'));
    const listed = execFileSync('pdfimages', ['-list', `${folder}/in.pdf`]).toString();
    // one picture and its mask, on the one page that shows it
    expect(
      listed
        .trim()
        .split('\n')
        .slice(2)
        .map((l) => l.trim().split(/\s+/)[2]),
    ).toEqual(['image', 'smask']);
  });

  test('marks for cutting: a larger page whose trim is the sheet', async () => {
    const { id } = await job();
    const { document, version } = await viewJob(t.db, id);
    const piece = { ...document.piece, stock: 'a6-postcard' };
    await changeJob(
      t.db,
      id,
      { version, document: { ...document, piece, options: { ...document.options, marks: true } } },
      'test',
    );
    const pdf = (await bytesOf(await run(id), '.pdf')).toString('latin1');
    const { page } = stockById('a6-postcard');
    const points = (mm: number) => (mm / 25.4) * 72;
    const [, width, height] = /MediaBox\[0 0 ([\d.]+) ([\d.]+)\]/.exec(pdf)!.map(Number);
    expect([width, height]).toEqual([
      expect.closeTo(points(page.width + 16), 2),
      expect.closeTo(points(page.height + 16), 2),
    ]);
    const box = (name: string) =>
      new RegExp(`/${name}\\[([\\d. ]+)\\]`).exec(pdf)![1]!.split(' ').map(Number);
    expect(box('TrimBox')[2]! - box('TrimBox')[0]!).toBeCloseTo(points(page.width), 2);
    expect(box('BleedBox')[0]).toBeCloseTo(points(5), 2);
  });
});

describe('runs', () => {
  test('only what was not printed, only what changed, only what is shown in its order', async () => {
    const { id, list } = await job();
    const [one, two] = await records(list);
    await run(id, { which: 'ticked', ticked: [one!.id, two!.id] });
    expect((await viewJob(t.db, id)).counts).toMatchObject({ new: 2, changed: 0 });
    await editCells(
      t.db,
      list,
      [{ record: two!.id, column: 'c2', value: 'Tam Bellweather' }],
      'test',
    );
    expect((await viewJob(t.db, id)).counts).toMatchObject({ new: 2, changed: 1 });
    const changed = await run(id, { which: 'changed' });
    expect(pdfText(await bytesOf(changed, '.pdf')).replace(/\s+/g, ' ')).toContain(
      'Tam Bellweather',
    );
    expect((await viewRun(t.db, changed)).pieces).toBe(1);
    await expect(startRun(t.db, id, { name: 'x', which: 'changed' }, 'test')).rejects.toThrow(
      /Nothing that was printed has changed/,
    );
    expect((await viewRun(t.db, await run(id, { which: 'new' }))).pieces).toBe(2);
    await expect(startRun(t.db, id, { name: 'x', which: 'new' }, 'test')).rejects.toThrow(
      /already printed/,
    );
    const view = {
      sort: 'c1:down',
      where: JSON.stringify([{ column: 'c1', is: 'holds', text: '00' }]),
    };
    const shown = await run(id, { which: 'filtered', view });
    const receipt = parse(await bytesOf(shown, 'receipt.csv'), { columns: true, bom: true }) as {
      Key: string;
    }[];
    expect(receipt.map((r) => r.Key)).toEqual(['004', '003', '002', '001']);
  });

  test('the same again gives the same bytes, whatever became of the list', async () => {
    const { id, list } = await job();
    for (const output of [
      { kind: 'pdf' },
      { kind: 'images', format: 'svg' },
      { kind: 'csv' },
    ] as Output[]) {
      const ending = output.kind === 'images' ? '.zip' : `.${output.kind}`;
      const first = await run(id, { output });
      const [one] = await records(list);
      await editCells(
        t.db,
        list,
        [{ record: one!.id, column: 'c2', value: `Changed for ${output.kind}` }],
        'test',
      );
      const again = await runAgain(t.db, first, 'test');
      await work();
      expect(hash(await bytesOf(again, ending))).toBe(hash(await bytesOf(first, ending)));
    }
  });

  test('a failed code is made again alone, on a started sheet', async () => {
    const { id } = await job();
    const first = await run(id);
    await t.db
      .updateTable('receipts')
      .set({ result: 'unread' })
      .where('run_id', '=', first)
      .where('key', '=', '003')
      .execute();
    const again = await run(id, {
      which: 'failed',
      from: first,
      start: 7,
      name: 'Weekend, failed ones again',
    });
    const receipt = parse(await bytesOf(again, 'receipt.csv'), { columns: true, bom: true }) as {
      Key: string;
      Position: string;
    }[];
    expect(receipt.map((r) => [r.Key, r.Position])).toEqual([['003', '7']]);
    expect((await viewRun(t.db, again)).again).toBe(first);
  });

  test('two runs are compared: what only one holds, and what says something else', async () => {
    const { id, list } = await job();
    const first = await run(id);
    const [one, two] = await records(list);
    await editCells(t.db, list, [{ record: one!.id, column: 'c1', value: '0001' }], 'test');
    await removeRecords(t.db, list, [two!.id], 'test');
    const second = await run(id);
    expect(await compareRuns(t.db, first, second)).toMatchObject({
      both: 3,
      onlyFirst: [{ key: '002' }],
      onlySecond: [],
      differ: [{ key: '0001', first: '001', second: '0001' }],
    });
    await removeRun(t.db, second);
    await expect(viewRun(t.db, second)).rejects.toThrow();
  });

  test('a receipt on one page, and a notice in the Out-tray', async () => {
    const { id } = await job();
    const made = await run(id);
    const pdf = Buffer.from(await receiptPdf(t.db, made));
    expect(renderPdf(pdf, 60)).toHaveLength(1);
    expect(pdfText(pdf).replace(/\s+/g, ' ')).toMatch(
      /Receipt Weekend .*4 on 1 sheet, A4 sheets of 21.* 4 all 4 Every code was read back/,
    );
    expect((await listLetters(t.db))[0]).toMatchObject({
      subject: 'Weekend is done',
      body: '4 pieces on 1 sheet. All 4 codes read back.',
    });
  });

  test('a printer’s dots and offset are in what is made for it; the stand-in shows its state; its test page reads', async () => {
    const { id } = await job();
    const standIn = { address: null, faults: [], intoTray: false };
    await addPrinter(t.db, {
      name: 'Office',
      dpi: 600,
      offsetX: 0,
      offsetY: 0,
      finest: null,
      ...standIn,
    });
    const [printer] = await listPrinters(t.db, true);
    await changePrinter(t.db, printer!.id, {
      name: printer!.name,
      dpi: 300,
      offsetX: 5,
      offsetY: 0,
      finest: 3,
      ...standIn,
    });
    const [plain, shifted] = [await run(id), await run(id, { printer: printer!.id })];
    const left = async (runId: number) =>
      Math.min(
        ...(await readAll(renderPdf(await bytesOf(runId, '.pdf'), 200)[0]!)).flatMap((c) =>
          c.corners.map((p) => p.x),
        ),
      );
    expect(((await left(shifted)) - (await left(plain))) / (200 / 25.4)).toBeCloseTo(5, 0);
    await sendToPrinter(t.db, printer!.id, { run: shifted });
    const [sent] = (await listPrinters(t.db, true))[0]!.jobs;
    expect(sent).toMatchObject({ sheets: 1, state: 'waiting' });
    await stopPrint(t.db, sent!.id);
    expect((await listPrinters(t.db, true))[0]!.jobs[0]!.state).toBe('stopped');
    const texts = (
      await readAll(renderPdf(Buffer.from(await testPage(t.db, printer!.id)), 600)[0]!)
    ).map((c) => c.text);
    expect(texts).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/12 dots per square/),
        expect.stringMatching(/4 dots per square/),
      ]),
    );
  });
});

test('the addresses of a sign that has no columns at all are told too', async () => {
  const { id: list } = await createList(t.db, {
    name: 'A sign',
    source: 'typed',
    headings: [],
    roles: [],
    rows: [[]],
    note: '',
    actor: 'test',
  });
  const sign = await createJob(t.db, 'A sign', list, [], 'test');
  const { version, document } = await viewJob(t.db, sign);
  const stamps = [
    { ...document.stamps[0]!, parts: [{ kind: 'text' as const, text: 'Dune House' }] },
  ];
  await changeJob(t.db, sign, { version, document: { ...document, stamps } }, 'test');
  expect(await giveAddresses(t.db, sign, 'stamp-1', 'test')).toBe(1);
  const [heads, own, ...more] = await addressRows(
    t.db,
    sign,
    'stamp-1',
    'https://x.example',
    'png',
  );
  expect(heads).toEqual(['Record', 'Code']);
  expect(own).toEqual(['', expect.stringMatching(/^https:\/\/x\.example\/c\/.+\.png$/)]);
  expect(more).toEqual([]);
});

test('a picture address gives the code of one record as it is now, until it is withdrawn', async () => {
  const { id, list } = await job();
  expect(await giveAddresses(t.db, id, 'stamp-1', 'test')).toBe(4);
  expect(await giveAddresses(t.db, id, 'stamp-1', 'test')).toBe(0);
  const rows = await addressRows(t.db, id, 'stamp-1', 'https://codes.marrambay.example', 'png');
  expect(rows).toHaveLength(5);
  expect(new Set(rows.map((r) => r[1])).size).toBe(5);
  const name = rows[1]![1]!.split('/').at(-1)!;
  const said = async () =>
    (await readAll(Buffer.from((await codeAt(t.db, name, { mm: 30, dpi: 300 })).bytes)))[0]!.text;
  expect(await said()).toBe('001');
  const [one] = await records(list);
  await editCells(t.db, list, [{ record: one!.id, column: 'c1', value: '777' }], 'test');
  expect(await said()).toBe('777');
  expect(
    Buffer.from((await codeAt(t.db, name.replace('.png', '.svg'), {})).bytes).toString(),
  ).toMatch(/^<svg /);
  // what would take a server a minute is refused before it is drawn; a drawing without dots is
  // given
  await expect(codeAt(t.db, name, { mm: 300, dpi: 600 })).rejects.toThrow(
    'at most 169 dots per inch',
  );
  expect((await codeAt(t.db, name, { mm: 300, dpi: 169 })).bytes.length).toBeGreaterThan(100);
  expect(
    (await codeAt(t.db, name.replace('.png', '.svg'), { mm: 300, dpi: 1200 })).bytes.length,
  ).toBeGreaterThan(100);
  await expect(codeAt(t.db, 'guess-guess-guess-guess1.png', {})).rejects.toThrow(
    /no picture at this address/,
  );
  await withdrawAddresses(t.db, id, 'stamp-1', [one!.id]);
  await expect(codeAt(t.db, name, {})).rejects.toThrow(/withdrawn/);
  // others may be given one, the withdrawn comes back to nobody; its record is given another when
  // it is asked for by itself
  expect(await giveAddresses(t.db, id, 'stamp-1', 'test')).toBe(0);
  expect(await giveAddresses(t.db, id, 'stamp-1', 'test', [one!.id])).toBe(1);
  await expect(codeAt(t.db, name, {})).rejects.toThrow(/withdrawn/);
  const [, fresh] = await addressRows(t.db, id, 'stamp-1', '', 'svg', { mm: 20, look: 4 });
  expect(fresh![1]).toMatch(/\.svg\?mm=20&look=4$/);
  expect(fresh![1]).not.toContain(name.split('.')[0]);
  // in a kept look, as long as it is kept
  const look = await keep(
    t.db,
    { kind: 'look', name: 'Red', document: { ...defaultLook, foreground: '#a8324a' } },
    'test',
  );
  const svg = async () =>
    Buffer.from(
      (await codeAt(t.db, fresh![1]!.slice(3).split('?')[0]!, { look })).bytes,
    ).toString();
  expect(await svg()).toContain('#a8324a');
  await t.db.deleteFrom('kept').where('id', '=', look).execute();
  await expect(svg()).rejects.toThrow(/no longer exists/);
  await withdrawAddresses(t.db, id, 'stamp-1');
  expect(await giveAddresses(t.db, id, 'stamp-1', 'test')).toBe(4);
});

test('an address gives only so many new pictures in a minute; what it gave before it gives again', async () => {
  const { id } = await job();
  await giveAddresses(t.db, id, 'stamp-1', 'test');
  const rows = await addressRows(t.db, id, 'stamp-1', 'https://codes.marrambay.example', 'svg');
  const [, first, second] = rows.map((r) => r[1]!.split('/').at(-1)!);
  let refused: unknown;
  let given = 0;
  for (let mm = 10; mm < 60 && !refused; mm++)
    await codeAt(t.db, first!, { mm }).then(
      () => given++,
      (error: unknown) => (refused = error),
    );
  expect(refused).toMatchObject({ status: 429 });
  expect(given).toBe(30);
  expect((await codeAt(t.db, first!, { mm: 10 })).bytes.length).toBeGreaterThan(100);
  expect((await codeAt(t.db, second!, { mm: 10 })).bytes.length).toBeGreaterThan(100);
});

test('pictures are fetched from their addresses, go on after any of them, and say which did not come', async () => {
  const server = createServer((asked, answer) => {
    if (asked.url!.includes('gone')) return answer.writeHead(404).end();
    answer
      .writeHead(200, { 'content-type': 'image/svg+xml' })
      .end(
        '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>',
      );
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const base = `http://127.0.0.1:${(server.address() as { port: number }).port}`;
  try {
    const { list } = await runsIn(() => t).job(
      ['No', 'Photo'],
      ['key', 'text'],
      Array.from({ length: 20 }, (_, i) => [
        `${i}`,
        `${base}/${i === 7 ? 'gone' : `p${String(i).padStart(2, '0')}`}.svg`,
      ]),
    );
    await writeSettings(t.db, { doorPrivate: true, kept: {} });
    const rest = await fetchPictures(t.db, list, 'c2', `${base}/p12.svg`);
    expect(rest).toMatchObject({ kept: 7, failed: [], next: null, left: 0 });
    const all = await fetchPictures(t.db, list, 'c2');
    expect(all).toMatchObject({ kept: 12, next: null, left: 0 });
    expect(all.failed).toEqual([{ address: `${base}/gone.svg`, reason: 'the server answers 404' }]);
    expect(await fetchPictures(t.db, list, 'c2')).toMatchObject({ kept: 0 });
  } finally {
    server.close();
  }
});

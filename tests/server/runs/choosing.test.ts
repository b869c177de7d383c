import { type NewRun } from '../../../src/contract';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { viewJob, changeJob } from '../../../src/server/jobs/jobs';
import { editCells } from '../../../src/server/lists/edits';
import { proofOf } from '../../../src/server/runs/proof';
import { copiesOf } from '../../../src/core/run/plan';
import { viewRun } from '../../../src/server/runs/run-views';
import { startRun } from '../../../src/server/runs/runs';
import { startTypedList } from '../../../src/server/jobs/sheets';
import { readAll } from '../../helpers/barcode';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { pdfFonts, pdfText, renderPdf } from '../../helpers/poppler';
import { runsIn } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job, run, bytesOf, work } = runsIn(() => t);

const rows = [
  ['10', 'Wren', 'Salt Meadow', '1'],
  ['9', 'Anselm', 'Dune House', '2'],
  ['', 'Odalys', 'Glasshouse', '1'],
  ['8', 'Maude', '', '0'],
  ['100', 'Piran', 'Dune House', '1'],
];
let id: number;
let list: number;
let ids: number[];
beforeEach(async () => {
  const made = await job(['No', 'Name', 'Site', 'Copies'], ['key', 'name', 'text', 'text'], rows);
  [id, list] = [made.id, made.list];
  ids = (
    await t.db
      .selectFrom('records')
      .select('id')
      .where('list_id', '=', list)
      .orderBy('position')
      .execute()
  ).map((r) => r.id);
});
const proof = (wanted: Partial<NewRun>) =>
  proofOf(t.db, id, { name: 'x', which: 'with-code', ...wanted }, 0);
const numbers = async (wanted: Partial<NewRun>) =>
  (await proof(wanted)).items.map((i) => i.values.c1);
const leftOut = async (wanted: Partial<NewRun>) =>
  (await proof(wanted)).leftOut.map((l) => `${l.title}: ${l.reason}`);

describe('the order of the pieces', () => {
  test('is the list’s, or that of a column with numbers by their size and blanks last', async () => {
    expect(await numbers({})).toEqual(['10', '9', '8', '100']);
    expect(await numbers({ sort: 'c1:up' })).toEqual(['8', '9', '10', '100']);
    expect(await numbers({ sort: 'c1:down' })).toEqual(['100', '10', '9', '8']);
    expect(await numbers({ sort: 'c3:up' })).toEqual(['9', '100', '10', '8']);
  });
  test('of the ticked too, and copies of a record stay together', async () => {
    const { document, version } = await viewJob(t.db, id);
    await changeJob(
      t.db,
      id,
      { version, document: { ...document, options: { ...document.options, copiesFrom: 'c4' } } },
      'test',
    );
    expect(await numbers({ which: 'ticked', ticked: ids, sort: 'c1:up' })).toEqual([
      '9',
      '9',
      '10',
      '100',
    ]);
  });
  test('lies so on the sheets', async () => {
    const made = await run(id, { which: 'with-code', sort: 'c1:up' });
    const [page] = renderPdf(await bytesOf(made, '.pdf'), 150);
    const codes = (await readAll(page!)).map((c) => c.text);
    expect(codes.sort()).toEqual(['10', '100', '8', '9']);
    const receipt = (await bytesOf(made, 'receipt.csv')).toString();
    expect(receipt.indexOf('Maude')).toBeLessThan(receipt.indexOf('Anselm'));
    expect(receipt.indexOf('Wren')).toBeLessThan(receipt.indexOf('Piran'));
  });
  test('another than a column’s is refused', async () => {
    await expect(proof({ sort: 'name; drop table lists' })).rejects.toThrow();
  });
});

describe('what is left out', () => {
  test('is weighed against what was meant: the ticked, the shown, the new, the changed', async () => {
    expect(await leftOut({})).toEqual([expect.stringMatching(/^Odalys: No is blank/)]);
    expect(await leftOut({ which: 'ticked', ticked: [ids[0]!, ids[1]!] })).toEqual([]);
    expect(await leftOut({ which: 'ticked', ticked: [ids[0]!, ids[2]!] })).toEqual([
      expect.stringMatching(/^Odalys: /),
    ]);
    expect(await leftOut({ which: 'filtered', view: { q: 'Dune' } })).toEqual([]);
    expect(await leftOut({ which: 'filtered', view: { q: 'Glasshouse' } })).toEqual([
      expect.stringMatching(/^Odalys: /),
    ]);
    await run(id, { which: 'ready' });
    const fresh = await proof({ which: 'new' });
    expect([fresh.pieces, fresh.left]).toEqual([0, 1]);
    expect(await leftOut({ which: 'changed' })).toEqual([]);
    // one that was printed loses its number: it is meant, and cannot be made
    await editCells(t.db, list, [{ record: ids[0]!, column: 'c1', value: '' }], 'test');
    const changed = await proof({ which: 'changed' });
    expect([changed.pieces, changed.left, changed.leftOut[0]!.title]).toEqual([0, 1, 'Wren']);
  });
  test('says so of records of which no copy is wanted, and the run keeps the account', async () => {
    const { document, version } = await viewJob(t.db, id);
    await changeJob(
      t.db,
      id,
      { version, document: { ...document, options: { ...document.options, copiesFrom: 'c4' } } },
      'test',
    );
    expect(await leftOut({})).toContain('Maude: its number of copies is 0');
    const made = await startRun(
      t.db,
      id,
      { name: 'x', which: 'ticked', ticked: [ids[1]!, ids[3]!] },
      'test',
    );
    await work();
    expect(await viewRun(t.db, made)).toMatchObject({
      pieces: 2,
      leftOut: [{ title: 'Maude', reason: 'its number of copies is 0' }],
    });
  });
});

describe('a fixed sign', () => {
  const sign = {
    design: 'door-sign',
    copies: 2,
    values: { Name: 'Potting shed', Page: 'https://marrambay.example/sheds/potting' },
  };
  test('is a job with one record that needs no key, laid out in its design and made as often as it is wanted', async () => {
    const made = await startTypedList(
      t.db,
      { name: 'Potting shed', purpose: 'page', sign },
      'test',
    );
    const view = await viewJob(t.db, made);
    expect(view).toMatchObject({
      name: 'Potting shed',
      counts: { all: 1, ready: 1 },
      problems: [],
    });
    expect(view.document.piece.stock).toBe('a5-sign');
    const runId = await run(made, { which: 'ready' });
    const pdf = await bytesOf(runId, '.pdf');
    expect(pdfText(pdf).match(/Potting shed/g)).toHaveLength(2);
    const codes = await Promise.all(renderPdf(pdf, 100).map((page) => readAll(page)));
    expect(codes.map(([c]) => c!.text)).toEqual([sign.values.Page, sign.values.Page]);
  });
  test('whose code says its number has that as its key', async () => {
    const values = { Name: 'Pump', No: 'PU-0001' };
    const view = await viewJob(
      t.db,
      await startTypedList(
        t.db,
        { name: 'Pump', purpose: 'thing', sign: { ...sign, design: 'asset-tag', values } },
        'test',
      ),
    );
    expect(view.list.columns.find((c) => c.role === 'key')?.name).toBe('No');
    expect(view.counts).toMatchObject({ all: 1, ready: 1 });
  });
});

test('names of every script are as bold as those beside them, in the file that is printed', async () => {
  const names = [
    'Ines Dray',
    'Σοφία Καρρά',
    'Елена Морозко',
    'דניאל שחר',
    'سلمى نور',
    'अनन्या राव',
    '桂子',
    '김하늘',
  ];
  const { id: made } = await job(
    ['No', 'Name'],
    ['key', 'name'],
    names.map((name, i) => [`V${i}`, name]),
  );
  const pdf = await bytesOf(await run(made, { which: 'ready' }), '.pdf');
  const fonts = pdfFonts(pdf);
  for (const face of [
    'BricolageGrotesque',
    'NotoSans',
    'NotoSansHebrew',
    'NotoSansArabic',
    'NotoSansDevanagari',
    'NotoSansJP',
    'NotoSansKR',
  ])
    expect(fonts).toMatch(new RegExp(`\\+${face}-Bold\\b`));
  expect(fonts).not.toMatch(/NotoSans\w*-(Regular|Medium)/);
});

describe('copies from a column', () => {
  test('are read as in the core, and what is no number leaves the record out with a word', async () => {
    const said = ['', '0', '2.0', '1,000', '1.5', '-1', 'x', '1.000', '1001', ' 3 '];
    const made = await job(
      ['No', 'Name', 'Site', 'Copies'],
      ['key', 'name', 'text', 'text'],
      said.map((s, i) => [`K${i}`, `N${i}`, '', s]),
    );
    const { document, version } = await viewJob(t.db, made.id);
    await changeJob(
      t.db,
      made.id,
      { version, document: { ...document, options: { ...document.options, copiesFrom: 'c4' } } },
      'test',
    );
    const all = await proofOf(t.db, made.id, { name: 'x', which: 'with-code' }, 0);
    expect(all.pieces).toBe(said.reduce((sum, s) => sum + (copiesOf(s) ?? 0), 0));
    expect(all.leftOut.map((l) => l.reason)).toEqual([
      'its number of copies is 0',
      ...['1.5', '-1', 'x', '1.000', '1001'].map(
        (s) => `Copies says “${s}”, which is not a number of pieces from 0 to 1,000`,
      ),
    ]);
    // the ready ones are those whose number is one
    expect((await viewJob(t.db, made.id)).counts).toMatchObject({ ready: 5, look: 5 });
  });
  test('the failed again are those that failed, each once, whatever the job makes by now', async () => {
    const { document, version } = await viewJob(t.db, id);
    await changeJob(
      t.db,
      id,
      { version, document: { ...document, options: { ...document.options, copies: 2 } } },
      'test',
    );
    const first = await run(id, { which: 'with-code', output: { kind: 'pdf-each' } });
    await t.db
      .updateTable('receipts')
      .set({ result: 'unread' })
      .where('run_id', '=', first)
      .where('key', 'in', ['9', '100'])
      .execute();
    const again = await viewJob(t.db, id);
    await changeJob(
      t.db,
      id,
      {
        version: again.version,
        document: { ...again.document, options: { ...again.document.options, copies: 5 } },
      },
      'test',
    );
    const second = await startRun(
      t.db,
      id,
      { name: 'again', which: 'failed', from: first },
      'test',
    );
    await work();
    const made = await viewRun(t.db, second);
    expect([made.pieces, made.makes]).toEqual([2, expect.stringContaining('PDF for each')]);
    // on sheets, as many as failed: two copies of one record, both spoilt, are two pieces
    const sheets = await run(id, { which: 'with-code' });
    await t.db
      .updateTable('receipts')
      .set({ result: 'unread' })
      .where('run_id', '=', sheets)
      .where('key', '=', '9')
      .where('seq', '<', 7)
      .execute();
    const spoilt = await t.db
      .selectFrom('receipts')
      .select('seq')
      .where('run_id', '=', sheets)
      .where('result', '=', 'unread')
      .execute();
    const third = await startRun(
      t.db,
      id,
      { name: 'again', which: 'failed', from: sheets },
      'test',
    );
    expect((await viewRun(t.db, third)).pieces).toBe(spoilt.length);
  });
});

describe('each output by what it is made of', () => {
  const withMisfit = async () => {
    const { document, version } = await viewJob(t.db, id);
    const [first] = document.stamps;
    const till = {
      ...first!,
      id: 'stamp-2',
      name: 'Till',
      symbology: 'ean-13' as const,
      does: 'thing',
      parts: [{ kind: 'column' as const, column: 'c2' }],
    };
    await changeJob(
      t.db,
      id,
      { version, document: { ...document, stamps: [first!, till] } },
      'test',
    );
  };
  const codeOutputs = [
    { kind: 'images', format: 'png' },
    { kind: 'xlsx' },
    { kind: 'html' },
    { kind: 'csv' },
  ] as const;

  test('a stamp that is not on the piece and fits nothing holds back what shows its codes, in words', async () => {
    await withMisfit();
    expect((await proof({ which: 'ready' })).records).toBe(4);
    for (const output of codeOutputs) {
      const { records, leftOut: left } = await proof({ which: 'ready', output });
      expect([output.kind, records, left.length]).toEqual([output.kind, 0, 5]);
      expect(left[0]!.reason).toContain('EAN-13');
      // all that have a code come without the one that cannot be made, and the run ends
      const made = await run(id, { which: 'with-code', output });
      expect((await viewRun(t.db, made)).state).toBe('done');
    }
    const csv = (
      await bytesOf(await run(id, { which: 'with-code', output: { kind: 'csv' } }), '.csv')
    ).toString();
    // no code that does not exist is said of a record
    expect(csv).toMatch(/^10,Wren,Salt Meadow,1,10,$/m);
  });

  test('what is wrong on the piece alone holds back no workbook, list, page or picture', async () => {
    await editCells(
      t.db,
      list,
      [{ record: ids[0]!, column: 'c2', value: 'Wilhelmina '.repeat(30).trim() }],
      'test',
    );
    expect(await leftOut({ which: 'ready' })).toEqual(
      expect.arrayContaining([expect.stringContaining('runs over')]),
    );
    for (const output of codeOutputs)
      expect([output.kind, (await proof({ which: 'ready', output })).records]).toEqual([
        output.kind,
        4,
      ]);
  });
});

import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { PDFDocument } from '@cantoo/pdf-lib';
import { codeAt } from '../../../src/server/links';
import {
  addRecords,
  changeColumn,
  editCells,
  keepWorkedColumn,
  removeRecords,
  stepBack,
} from '../../../src/server/lists';
import { changeJob, copyJob, viewJob } from '../../../src/server/jobs';
import { pageIn, pictureIn } from '../../../src/core/links/code';
import {
  changeOwnPage,
  changePages,
  fetchOwn,
  ownPage,
  recordPage,
  startPages,
  viewPages,
} from '../../../src/server/pages';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { signedIn } from '../../helpers/people';
import { runsIn, workOff } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job } = runsIn(() => t);

const rows = [
  ['A-1', 'Sea kale <b>', 'kale@marrambay.example', '4711'],
  ['A-2', 'Thrift', 'thrift@marrambay.example', '4712'],
  ['A-3', 'Thrift', 'thrift@marrambay.example', '4713'],
];
async function garden() {
  const { id, list } = await job(
    ['No', 'Plant', 'Mail', 'Key'],
    ['key', 'name', 'email', 'text'],
    rows,
  );
  const { pages } = await startPages(t.db, list, 'test');
  const { list: now } = await viewJob(t.db, id);
  const column = now.columns.find((c) => c.worked?.source.kind === 'page')!;
  return { id, list, column: column.id, version: pages!.version, document: pages!.document };
}
const recordsOf = (list: number) =>
  t.db
    .selectFrom('records')
    .select(['id', 'values'])
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();
const visit = (id: string, headers: Record<string, string> = {}) =>
  recordPage(t.db, id, new Request('http://localhost/r/x', { headers }));

describe('the page of a record', () => {
  test('shows anyone what they may see and no more, people signed in the rest, and nothing runs on it', async () => {
    const { list, column, version, document } = await garden();
    const [first] = await recordsOf(list);
    const id = pageIn(first!.values[column]!)!;
    const bare = await (await visit(id)).text();
    expect(bare).toContain('Sea kale &lt;b&gt;');
    expect(bare).not.toContain('kale@');
    expect(bare).not.toContain('<script');
    const { pages } = await changePages(
      t.db,
      list,
      {
        version,
        document: {
          ...document,
          stamp: 'stamp-1',
          shown: [
            { column: 'c1', who: 'anyone' },
            { column: 'c3', who: 'signed-in' },
          ],
        },
      },
      'test',
    );
    const answer = await visit(id);
    const shown = await answer.text();
    expect(shown).toContain('A-1');
    expect(shown).toContain('data:image/svg+xml;base64,');
    expect(shown).not.toContain('kale@');
    expect(Object.fromEntries(answer.headers)).toMatchObject({
      'x-robots-tag': 'noindex, nofollow',
      'cache-control': 'no-store',
    });
    expect(answer.headers.get('content-security-policy')).toContain(`default-src 'none'`);
    const looker = await signedIn(t.db, 'viewer');
    expect(await (await visit(id, { cookie: looker.cookie })).text()).toContain(
      'kale@marrambay.example',
    );
    const scanner = await signedIn(t.db, 'scanner');
    expect(await (await visit(id, { cookie: scanner.cookie })).text()).not.toContain('kale@');
    await expect(changePages(t.db, list, { version, document }, 'test')).rejects.toThrow(
      'another window',
    );
    for (const id of ['c3', 'c4'])
      await changeColumn(t.db, list, { does: 'secret', id, secret: true }, 'test');
    expect(await (await visit(id, { cookie: looker.cookie })).text()).not.toContain('kale@');
    await expect(
      changePages(
        t.db,
        list,
        {
          version: pages!.version,
          document: { ...pages!.document, shown: [{ column: 'c4', who: 'anyone' }] },
        },
        'test',
      ),
    ).rejects.toThrow('secret');
    const last = await changePages(
      t.db,
      list,
      { version: pages!.version, document: { ...pages!.document, open: false } },
      'test',
    );
    expect(last.pages!.document.shown).toEqual([{ column: 'c1', who: 'anyone' }]);
    expect((await visit(id)).status).toBe(404);
  });
  test('is there as soon as the record is, stays through a change, says when it is gone, and comes back', async () => {
    const { list, column } = await garden();
    await addRecords(t.db, list, [{ c1: 'A-9', c2: 'Sea holly' }], 'test');
    const added = (await recordsOf(list)).at(-1)!;
    const id = pageIn(added.values[column]!)!;
    expect(await (await visit(id)).text()).toContain('Sea holly');
    await editCells(t.db, list, [{ record: added.id, column: 'c2', value: 'Eryngium' }], 'test');
    expect(await (await visit(id)).text()).toContain('Eryngium');
    await removeRecords(t.db, list, [added.id], 'test');
    expect((await visit(id)).status).toBe(410);
    expect((await viewPages(t.db, list)).pages).toMatchObject({ count: 3, gone: 1 });
    await stepBack(t.db, list, 'undo', 'test');
    expect(await (await visit(id)).text()).toContain('Eryngium');
    expect((await visit('x'.repeat(22))).status).toBe(404);
    expect((await visit('../../etc')).status).toBe(404);
  });
  test('of a copied list is its own', async () => {
    const { id, list, column } = await garden();
    const keeper = await signedIn(t.db, 'administrator');
    const copy = await copyJob(
      t.db,
      id,
      { id: keeper.id, name: 'Copier', right: 'administrator' },
      'administrator',
    );
    const { list: other } = await viewJob(t.db, copy);
    const ids = (of: { values: Record<string, string> }[]) =>
      of.map((r) => pageIn(r.values[column] ?? ''));
    const [mine, theirs] = [ids(await recordsOf(list)), ids(await recordsOf(other.id))];
    expect(theirs.every(Boolean)).toBe(true);
    expect(mine.some((page) => theirs.includes(page))).toBe(false);
  });
  test('is started by two at once as one', async () => {
    const { list } = await job(['No'], ['key'], [['1']]);
    await Promise.all([
      startPages(t.db, list, 'a'),
      startPages(t.db, list, 'b'),
      startPages(t.db, list, 'c'),
    ]);
    const { columns } = await t.db
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', list)
      .executeTakeFirstOrThrow();
    expect(columns.filter((c) => c.worked?.source.kind === 'page')).toHaveLength(1);
  });
});

describe('the picture address of a record', () => {
  test('is there as soon as the record is, and is the one that was given out before', async () => {
    const { list } = await garden();
    const column = await keepWorkedColumn(
      t.db,
      list,
      { name: 'Picture', worked: { source: { kind: 'picture', stamp: 'stamp-1' }, steps: [] } },
      'test',
    );
    await addRecords(t.db, list, [{ c1: 'A-8', c2: 'Marram' }], 'test');
    for (const { values } of await recordsOf(list)) {
      const { bytes } = await codeAt(t.db, `${pictureIn(values[column]!)!}.png`, {});
      expect(Buffer.from(bytes.slice(1, 4)).toString()).toBe('PNG');
    }
  });
});

describe('a page on which people fetch their own', () => {
  let places = 0;
  const ask = async (token: string, given: string[], as = 'code', from = `10.1.0.${++places}`) => {
    const body = new URLSearchParams([
      ['as', as],
      ...given.map((text, i) => [`a${i}`, text]),
    ]).toString();
    return fetchOwn(
      t.db,
      token,
      new Request('http://localhost/f/x', {
        method: 'POST',
        body,
        headers: { 'x-forwarded-for': from },
      }),
      'n1',
    );
  };
  async function own() {
    const made = await garden();
    await workOff(t);
    const { page } = await changeOwnPage(
      t.db,
      made.id,
      {
        version: 0,
        document: {
          open: true,
          title: 'Fetch your badge',
          asked: ['c1', 'c3'],
          gives: ['code', 'piece'],
        },
      },
      'test',
    );
    return { ...made, token: page!.address.split('/f/')[1]!, page: page! };
  }
  test('gives the code or the piece for what goes together, typed in any way, and tells the rest apart by nothing', async () => {
    const { token, id, page } = await own();
    const form = await (await ownPage(t.db, token)).text();
    expect(form).toContain('Fetch your badge');
    expect(form).toContain('<label>Mail');
    const picture = await ask(token, [' a-1', 'KALE@marrambay.example ']);
    expect(picture.headers.get('content-type')).toBe('image/png');
    const pdf = await ask(token, ['A-2', 'thrift@marrambay.example'], 'piece');
    expect(pdf.headers.get('content-type')).toBe('application/pdf');
    expect((await PDFDocument.load(await pdf.arrayBuffer())).getPageCount()).toBe(1);
    const wrong = [
      await ask(token, ['A-1', 'thrift@marrambay.example']),
      await ask(token, ['A-77', 'nobody@marrambay.example']),
      await ask(token, ['', '']),
      await ask(token, ['%', '%']),
      await ask(token, []),
    ];
    const said = await Promise.all(wrong.map(async (r) => [r.status, await r.text()]));
    expect(new Set(said.map((s) => JSON.stringify(s))).size).toBe(1);
    expect(said[0]![0]).toBe(404);
    const lines = await t.db
      .selectFrom('journal')
      .select(['what', 'outcome'])
      .where('job_id', '=', id)
      .execute();
    expect(lines.filter((l) => l.outcome === 'done')).toHaveLength(2);
    expect(lines.filter((l) => l.outcome === 'refused')).toHaveLength(5);
    await changeOwnPage(
      t.db,
      id,
      { version: page.version, document: { ...page.document, open: false } },
      'test',
    );
    expect((await ask(token, ['A-1', 'kale@marrambay.example'])).status).toBe(404);
    expect((await ownPage(t.db, 'made-up')).status).toBe(404);
  });
  test('is not tried out from one place', async () => {
    const { token } = await own();
    const answers = [];
    for (let i = 0; i < 33; i++)
      answers.push((await ask(token, [`A-${i}`, 'x@y.example'], 'code', '192.0.2.50')).status);
    expect(answers.filter((s) => s === 429)).toHaveLength(3);
  });
  test('is given to a hall full of guests behind one address', async () => {
    const { token } = await own();
    const right = ['A-1', 'kale@marrambay.example'];
    for (let i = 0; i < 40; i++)
      expect((await ask(token, right, 'code', '192.0.2.60')).status).toBe(200);
  });
  test('gives nothing where two go by the same, or a record is not ready', async () => {
    const { token, id, page } = await own();
    await changeOwnPage(
      t.db,
      id,
      { version: page.version, document: { ...page.document, asked: ['c2', 'c3'] } },
      'test',
    );
    expect((await ask(token, ['Thrift', 'thrift@marrambay.example'])).status).toBe(404);
    const { version, document } = await viewJob(t.db, id);
    await changeJob(
      t.db,
      id,
      {
        version,
        document: {
          ...document,
          stamps: document.stamps.map((s) => ({
            ...s,
            parts: [{ kind: 'column', column: 'gone' }],
          })),
        },
      },
      'test',
    );
    expect((await ask(token, ['Sea kale <b>', 'kale@marrambay.example'])).status).toBe(404);
  });
});

import { afterAll, beforeAll, expect, test } from 'vitest';
import { answerGiven, askedOf, type Question } from '../../../src/core/checkpoint/by-oneself';
import {
  changeByOneself,
  changeCheckpoint,
  checkInByOneself,
  checkInPage,
  makeCheckpoint,
  viewBoard,
  viewByOneself,
  viewCheckpoint,
} from '../../../src/server/checkpoints';
import { removeRecords } from '../../../src/server/lists';
import { recordPage } from '../../../src/server/pages';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job } = runsIn(() => t);

const question = (id: string, ask: string, change: Partial<Question> = {}): Question => ({
  id,
  kind: 'text',
  ask,
  choices: [],
  needed: false,
  only: null,
  column: null,
  ...change,
});
const questions = [
  question('q1', 'Lunch', { kind: 'choice', choices: ['soup', 'bread'], needed: true }),
  question('q2', 'Tools of your own', { kind: 'tick', only: { column: 'c3', is: 'Grafting' } }),
  question('q3', 'How far did you come, km', { kind: 'number' }),
];

/** A list of workshops with a checkpoint at which people check in by themselves. */
async function workshop(change: { again?: boolean; open?: boolean } = {}) {
  const { list } = await job(
    ['No', 'Name', 'Workshop', 'Token'],
    ['key', 'name', 'text', 'text'],
    [
      ['W-1', 'Rune <b>', 'Grafting', 'hush'],
      ['W-2', 'Keiko', 'Mosses', 'mum'],
    ],
  );
  const id = await makeCheckpoint(t.db, { name: 'Workshops', list }, 'test');
  const { version } = await viewCheckpoint(t.db, id);
  const view = await changeByOneself(
    t.db,
    id,
    {
      version,
      document: { open: true, words: 'Welcome', again: true, ends: null, questions, ...change },
    },
    'Ines',
  );
  const rows = await t.db
    .selectFrom('records')
    .select(['id', 'values'])
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();
  const column = (
    await t.db
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', list)
      .executeTakeFirstOrThrow()
  ).columns.find((c) => c.name === view.column)!;
  const pages = rows.map((row) => /\/r\/([\w-]{22})\/in\/\d+$/.exec(row.values[column.id]!)![1]!);
  return { id, list, view, records: rows.map((r) => r.id), pages };
}
let place = 0;
const send = (page: string, id: number, form: Record<string, string>) =>
  checkInByOneself(
    t.db,
    page,
    id,
    new Request('http://localhost/x', {
      method: 'POST',
      body: new URLSearchParams(form).toString(),
      headers: { 'x-forwarded-for': `10.1.0.${++place}` },
    }),
  );
const valuesOf = async (record: number) =>
  (
    await t.db
      .selectFrom('records')
      .select('values')
      .where('id', '=', record)
      .executeTakeFirstOrThrow()
  ).values;
const tape = async (id: number) =>
  (await viewBoard(t.db, id, { search: '', missing: 9, lines: 50 })).tape;

test('everyone has a page with their name and their own questions, which tells nothing secret and runs nothing', async () => {
  const { id, pages } = await workshop();
  const [first, second] = await Promise.all(pages.map((page) => checkInPage(t.db, page, id)));
  const html = await first!.text();
  expect(first!.status).toBe(200);
  expect(html).toContain('Rune &lt;b&gt;');
  expect(html).toContain('Tools of your own');
  expect(html).not.toMatch(/<script|hush/);
  expect(await second!.text()).not.toContain('Tools of your own');
  expect(first!.headers.get('x-robots-tag')).toContain('noindex');
  // the record's own page stays closed: nobody opened it
  expect((await recordPage(t.db, pages[0]!, new Request('http://localhost/x'))).status).toBe(404);
});

test('what is sent stands on the tape as theirs and in the list, and is changed until the end', async () => {
  const { id, view, pages, records } = await workshop();
  const columns = view.document.questions.map((q) => q.column!);
  expect((await send(pages[0]!, id, { q1: 'cake' })).status).toBe(400);
  expect(await tape(id)).toHaveLength(0);
  expect((await send(pages[0]!, id, { q1: 'soup', q2: 'yes', q3: '12,5' })).status).toBe(303);
  const values = await valuesOf(records[0]!);
  expect(columns.map((c) => values[c])).toEqual(['soup', 'yes', '12,5']);
  expect((await tape(id)).map((l) => [l.answer, l.title, l.how])).toEqual([
    ['comes-in', 'Rune <b>', 'page'],
  ]);
  expect(await (await checkInPage(t.db, pages[0]!, id)).text()).toContain('You are checked in');
  await send(pages[0]!, id, { q1: 'bread' });
  expect((await valuesOf(records[0]!))[columns[0]!]).toBe('bread');
  expect((await tape(id)).map((l) => l.answer)).toEqual(['was-here', 'comes-in']);
  // a question for others is not answered
  await send(pages[1]!, id, { q1: 'soup', q2: 'yes' });
  expect((await valuesOf(records[1]!))[columns[1]!] ?? '').toBe('');
});

test('sent by five windows at once they come in once; sent once only where it says so', async () => {
  const { id, pages } = await workshop({ again: false });
  const all = await Promise.all(
    Array.from({ length: 5 }, () => send(pages[0]!, id, { q1: 'soup' })),
  );
  expect(all.filter((answer) => answer.status === 303)).toHaveLength(1);
  expect((await tape(id)).filter((l) => l.answer === 'comes-in')).toHaveLength(1);
  expect(await (await checkInPage(t.db, pages[0]!, id)).text()).toContain('Thank you');
});

test('closed, ended, unknown and gone say so; tries are counted', async () => {
  const { id, view, list, pages, records } = await workshop();
  expect((await checkInPage(t.db, 'A'.repeat(22), id)).status).toBe(404);
  expect((await checkInPage(t.db, pages[0]!, id + 999)).status).toBe(404);
  const { rule, version } = await viewCheckpoint(t.db, id);
  const ended = await changeCheckpoint(t.db, id, {
    version,
    rule: { ...rule, ends: new Date(Date.now() - 1000).toISOString() },
  });
  expect(await (await send(pages[0]!, id, { q1: 'soup' })).text()).toContain('Check-in has ended');
  const open = await changeCheckpoint(t.db, id, { version: ended.version, rule });
  await removeRecords(t.db, list, [records[1]!], 'test');
  expect((await checkInPage(t.db, pages[1]!, id)).status).toBe(404);
  await changeByOneself(
    t.db,
    id,
    { version: open.version, document: { ...view.document, open: false } },
    'Ines',
  );
  expect((await send(pages[0]!, id, { q1: 'soup' })).status).toBe(404);
  await expect(
    changeByOneself(t.db, id, { version: 1, document: view.document }, 'x'),
  ).rejects.toThrow('another window');
  const tries = await Promise.all(
    Array.from({ length: 25 }, () => send(pages[0]!, id, { q1: 'soup' })),
  );
  expect(tries.some((answer) => answer.status === 429)).toBe(true);
  expect((await viewByOneself(t.db, id)).document.open).toBe(false);
});

test('an answer is checked by its kind', () => {
  const given = (change: Partial<Question>, text: string) =>
    answerGiven(question('q1', 'Ask', change), text);
  expect(given({ kind: 'number' }, ' 12 ')).toEqual({ value: '12' });
  expect(given({ kind: 'number' }, 'twelve')).toEqual({ wrong: 'Ask: enter a number.' });
  expect(given({ kind: 'tick' }, 'on')).toEqual({ value: 'yes' });
  expect(given({ kind: 'tick' }, '')).toEqual({ value: 'no' });
  expect(given({ needed: true }, '  ')).toHaveProperty('wrong');
  expect(given({}, 'a'.repeat(5000))).toEqual({ value: 'a'.repeat(1000) });
  expect(askedOf([question('q1', 'x', { only: { column: 'gone', is: '' } })], {}, [])).toEqual([]);
});

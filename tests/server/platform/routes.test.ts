import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { z } from 'zod';
import { symbologyFits } from '../../../src/server/jobs/fits';
import { readFilePieces, writeFile } from '../../../src/server/platform/files';
import { byId, defineRoute, type Route } from '../../../src/contract';
import { handle } from '../../../src/server/access';
import type { Database } from '../../../src/server/platform/db';
import { IntakeError, Refusal } from '../../../src/server/platform/refusal';
import { changeColumn } from '../../../src/server/lists/columns';
import { listJobs, viewJob } from '../../../src/server/jobs/jobs';
import { rejudgeList } from '../../../src/server/judging/judge';
import { loadDemo } from '../../../demo/load';
import { createJob, createList } from '../../../src/server/lists/lists';
import { readIntake, takeIntake } from '../../../src/server/sources/intake';
import { RunError } from '../../../src/server/platform/refusal';
import { testDatabase, type TestDatabase } from '../../helpers/database';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
});
afterAll(() => t.close());

const call = async (
  work: (asked: { db: Database; params: unknown; body: unknown }) => Promise<never>,
  {
    request = new Request('http://localhost/'),
    params = {},
    ...route
  }: { request?: Request; params?: Record<string, string> } & Partial<
    Pick<Route, 'body' | 'answer'>
  > & { place?: typeof byId } = {},
) => {
  const made = defineRoute({
    method: 'POST',
    path: '/api/x',
    about: '',
    right: 'anyone',
    answer: z.unknown(),
    ...route,
    params: route.place,
  } as Route);
  const response = await handle(made, work as never)(request, {
    params: Promise.resolve(params),
  });
  return { status: response.status, json: (await response.json()) as Record<string, unknown> };
};

describe('routes turn errors into words', () => {
  test.each([
    [new Refusal('Not like this.', 409), 409, 'Not like this.'],
    [new IntakeError('That is a picture.'), 400, 'That is a picture.'],
    [new RunError('Nothing to make.'), 400, 'Nothing to make.'],
    [
      new Error('secret detail'),
      500,
      'Something went wrong in Hand Stamp. Nothing was changed. Try again.',
    ],
  ])('%s', async (error, status, says) => {
    expect(await call(() => Promise.reject(error))).toMatchObject({
      status,
      json: { error: says },
    });
  });

  test('also those of another copy of the program, as the proxy and the routes have', async () => {
    const copy = (await import(
      '../../../src/server/platform/refusal?another-copy' as string
    )) as typeof import('../../../src/server/platform/refusal');
    expect(copy.Refusal).not.toBe(Refusal);
    expect(await call(() => Promise.reject(new copy.Refusal('Not like this.', 409)))).toEqual({
      status: 409,
      json: { error: 'Not like this.' },
    });
    expect(new copy.RunError('x')).not.toBeInstanceOf(IntakeError);
  });

  test('bad bodies and bad numbers are refused before anything happens', async () => {
    const body = z.object({ name: z.string().min(1, 'Give it a name.') });
    const post = (text: string) => ({
      body,
      request: new Request('http://localhost/', {
        method: 'POST',
        body: text,
        headers: { 'content-type': 'application/json' },
      }),
    });
    const back = async (asked: object) => asked as never;
    expect(await call(back, post('{"name":""}'))).toEqual({
      status: 400,
      json: { error: 'Give it a name.' },
    });
    expect(await call(back, post('{'))).toMatchObject({ status: 400 });
    const told = async (asked: { params: unknown }) => asked.params as never;
    for (const id of ['0', '-1', '1.5', 'x', '99999999999'])
      expect((await call(told, { place: byId, params: { id } })).status).toBe(404);
    expect(await call(told, { place: byId, params: { id: '7' } })).toEqual({
      status: 200,
      json: { id: 7 },
    });
    expect((await call((a) => viewJob(a.db, 999_999) as Promise<never>)).json).toEqual({
      error: 'This no longer exists. It may have been deleted.',
    });
  });
});

test('an answer that is not as the contract says, or tells more, does not leave in development and tests', async () => {
  const answer = z.strictObject({ name: z.string() });
  const told = (what: object) => call(async () => what as never, { answer });
  expect((await told({ name: 'Wren' })).status).toBe(200);
  expect((await told({ name: 7 })).status).toBe(500);
  expect((await told({ name: 'Wren', password: 'x' })).status).toBe(500);
});

describe('intake, from bytes to a job', () => {
  const intake = async (name: string, text: string) =>
    (
      await t.db
        .insertInto('intakes')
        .values({ file_name: name, bytes: Buffer.from(text), state: 'waiting', created_by: 'test' })
        .returning('id')
        .executeTakeFirstOrThrow()
    ).id;
  const row = (id: number) =>
    t.db.selectFrom('intakes').selectAll().where('id', '=', id).executeTakeFirstOrThrow();

  test('is read, taken as said, and judged', async () => {
    const id = await intake('lamps.csv', 'Garden lamps\n\nTag;Item\n007;Lamp\n;Lantern\n');
    await readIntake(t.db, id);
    expect((await row(id)).preview?.sheets[0]).toMatchObject({
      rows: 4,
      headerRow: 1,
      notes: ['1 blank row was left out.'],
    });
    await t.db
      .updateTable('intakes')
      .set({
        state: 'taking',
        take: JSON.stringify({ sheet: 0, headerRow: 1, roles: ['key', 'name'], name: 'Lamps' }),
      })
      .where('id', '=', id)
      .execute();
    await takeIntake(t.db, id);
    const taken = await row(id);
    expect(taken).toMatchObject({ state: 'taken', error: null });
    expect(taken.bytes).toHaveLength(0);
    expect(await viewJob(t.db, taken.job_id!)).toMatchObject({
      name: 'Lamps',
      counts: { all: 2, ready: 1, look: 0, out: 1 },
    });
    await takeIntake(t.db, id);
    expect((await listJobs(t.db)).filter((job) => job.name === 'Lamps')).toHaveLength(1);
  });

  test('that cannot be read says why; headings with nothing below leave no list behind', async () => {
    const picture = await intake('photo.csv', '\x89PNG\r\n\x1a\n');
    await readIntake(t.db, picture);
    expect(await row(picture)).toMatchObject({ state: 'failed', preview: null });
    const id = await intake('short.csv', 'Tag,Item\n');
    await readIntake(t.db, id);
    await t.db
      .updateTable('intakes')
      .set({
        state: 'taking',
        take: JSON.stringify({ sheet: 0, headerRow: 0, roles: [], name: 'Short' }),
      })
      .where('id', '=', id)
      .execute();
    await takeIntake(t.db, id);
    expect(await row(id)).toMatchObject({
      state: 'failed',
      error:
        'There are no rows below the headings, so there are no records to bring in. Choose another row for the headings.',
    });
    expect((await listJobs(t.db)).some((job) => job.name === 'Short')).toBe(false);
  });
});

describe('a list', () => {
  test('says which symbologies fit its records, and why the others do not', async () => {
    const rows = [
      ['2000411000017', 'Sea kale'],
      ['2000411000024', 'Thrift'],
      ['200041100002', 'Short'],
    ];
    const list = await createList(t.db, {
      name: 'Packets',
      source: 'p.csv',
      headings: ['Number', 'Name'],
      roles: ['product', 'name'],
      rows,
      note: '',
      actor: 'test',
    });
    const job = await createJob(t.db, 'Packets', list.id, list.columns, 'test');
    const { fits, looked, of } = await symbologyFits(t.db, job, 'stamp-1');
    expect([looked, of]).toEqual([3, 3]);
    const by = (id: string) => fits.find((f) => f.id === id)!;
    expect(by('qr')).toMatchObject({ misfits: 0, reason: undefined });
    expect(by('itf')).toMatchObject({ misfits: 2, mend: 'Put a zero in front.' });
    expect(by('ean-8').misfits).toBe(3);
    await expect(symbologyFits(t.db, job, 'gone')).rejects.toThrow(/no longer exists/);
  });

  test('is judged anew when its columns are for something else', async () => {
    const list = await createList(t.db, {
      name: 'Plain',
      source: 'p.csv',
      headings: ['A', 'B'],
      roles: ['key', 'name'],
      rows: [
        ['1', 'x'],
        ['1', 'y'],
      ],
      note: '',
      actor: 'test',
    });
    const job = await createJob(t.db, 'Plain', list.id, list.columns, 'test');
    await rejudgeList(t.db, list.id);
    expect((await viewJob(t.db, job)).counts).toMatchObject({ look: 2, ready: 0 });
    const columns = [
      { id: 'c1', role: 'text' as const },
      { id: 'c2', role: 'key' as const },
    ];
    await changeColumn(t.db, list.id, { does: 'roles', columns }, 'test');
    expect((await viewJob(t.db, job)).problems).toEqual([
      { kind: 'same-code', records: 2, mendable: 0 },
    ]);
  });
});

test('a file is kept in pieces and comes back whole', async () => {
  const list = await createList(t.db, {
    name: 'F',
    source: 'f',
    headings: ['A'],
    roles: ['key'],
    rows: [['1']],
    note: '',
    actor: 'test',
  });
  const job = await createJob(t.db, 'F', list.id, list.columns, 'test');
  const { id: run } = await t.db
    .insertInto('runs')
    .values({
      job_id: job,
      name: 'F',
      state: 'done',
      frozen: '{}',
      pieces: 0,
      sheets: 0,
      left_out: '[]',
      created_by: 'test',
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  const whole = Buffer.from(Array.from({ length: 1_300_000 }, (_, i) => (i * 7919) % 251));
  async function* parts() {
    for (let at = 0; at < whole.length; at += 99_991) yield whole.subarray(at, at + 99_991);
  }
  const id = await writeFile(t.db, run, 'a.bin', 'application/octet-stream', parts());
  const back: Uint8Array[] = [];
  for await (const part of readFilePieces(t.db, id)) back.push(part);
  expect(back).toHaveLength(3);
  expect(Buffer.concat(back).equals(whole)).toBe(true);
  expect(
    (await t.db.selectFrom('files').select('size').where('id', '=', id).executeTakeFirstOrThrow())
      .size,
  ).toBe(whole.length);
});

test('the demo is loaded once, seven lists with their faults', async () => {
  const demo = await testDatabase();
  try {
    expect(await loadDemo(demo.db)).toBe(true);
    expect(await loadDemo(demo.db)).toBe(false);
    const jobs = await listJobs(demo.db);
    expect(jobs.map((j) => [j.list, j.records]).sort()).toEqual(
      [
        ['Accessions', 1200],
        ['Equipment', 240],
        ['Friends of the garden', 400],
        ['Friends of the garden', 400],
        ['Seed loan agreements', 12],
        ['Seed loan agreements', 12],
        ['Seed packets', 60],
        ['Volunteers and stewards', 182],
        ['Workshops', 4],
      ].sort(),
    );
    expect(jobs[0]!.name).toBe('Badges, open weekend');
    expect(jobs.reduce((sum, j) => sum + j.look, 0)).toBeGreaterThan(5);
    expect(jobs.reduce((sum, j) => sum + j.out, 0)).toBeGreaterThan(1);
  } finally {
    await demo.close();
  }
});

/**
 * The rights to what a request names inside its body: a person who may change one job or one list
 * must not read others by entering their numbers. Tested with the real handlers.
 */
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Column } from '../../src/core/records/columns';
import { isSecret } from '../../src/core/records/columns';
import { shareWith } from '../../src/server/access';
import { copyJob, viewJob } from '../../src/server/jobs';
import { addJob, changeJob } from '../../src/server/jobs/jobs';
import { changeColumn, keepWorkedColumn } from '../../src/server/lists/columns';
import { addressTo } from '../../src/contract/client';
import { paths } from '../../src/contract/paths';
import { answer } from '../../src/server/routes';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { signedIn, type Signed } from '../helpers/people';
import { runsIn } from '../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
});
afterAll(() => t.close());
const { job } = runsIn(() => t);
const keeps = { right: 'administrator' } as const;

async function ask(name: keyof typeof paths, who: Signed, id: number, body?: unknown) {
  const address = `http://localhost${addressTo(name, { params: { id } })}`;
  const given = await answer(
    new Request(address, {
      method: paths[name][0],
      headers: { host: 'localhost', cookie: who.cookie, 'content-type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    }),
  );
  return { status: given.status, body: (await given.json()) as Record<string, never> };
}

/** A list of others with a secret column, and one that is shared with a guest to change. */
async function setting(right: 'scanner' | 'viewer') {
  const guest = await signedIn(t.db, right);
  const others = await job(
    ['No', 'Pay', 'Token'],
    ['key', 'text', 'text'],
    [['P-1', '1200', 'otter-9']],
  );
  await changeColumn(t.db, others.list, { does: 'secret', id: 'c3', secret: true }, 'test');
  const own = await job(['No', 'Name'], ['key', 'name'], [['P-1', 'Ines']]);
  await shareWith(t.db, { list: own.list }, { person: guest.id, right: 'editor' }, 'test', keeps);
  return { guest, others, own };
}
const lookup = (list: number, give: string) => ({
  name: 'Looked up',
  worked: {
    source: { kind: 'join', parts: [{ kind: 'column', column: 'c1' }] },
    steps: [{ kind: 'lookup', list, by: 'c1', give }],
  },
});
const columnsOf = async (list: number): Promise<Column[]> =>
  (
    await t.db
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', list)
      .executeTakeFirstOrThrow()
  ).columns;

test('a worked column looks into lists that its writer may look at, and into secrets they may change', async () => {
  const { guest, others, own } = await setting('scanner');
  const keep = (who: Signed, give: string) =>
    ask('keepWorkedColumn', who, own.list, lookup(others.list, give));
  expect((await keep(guest, 'c2')).status).toBe(403);
  expect(JSON.stringify((await keep(guest, 'c2')).body)).toContain('not shared with you');
  await shareWith(
    t.db,
    { list: others.list },
    { person: guest.id, right: 'viewer' },
    'test',
    keeps,
  );
  // open values may be read now, secret ones not
  expect((await keep(guest, 'c3')).status).toBe(403);
  expect((await keep(guest, 'c2')).status).toBe(200);
  const viewer = await setting('viewer');
  const theirs = (give: string) =>
    ask('keepWorkedColumn', viewer.guest, viewer.own.list, lookup(viewer.others.list, give));
  expect((await theirs('c3')).status).toBe(403);
  expect((await theirs('c2')).status).toBe(200);
});

test('a column that looks up a secret is secret itself, also when that becomes one later', async () => {
  const { others, own } = await setting('viewer');
  const id = await keepWorkedColumn(t.db, own.list, lookup(others.list, 'c3') as never, 'test');
  const secret = async () => {
    const columns = await columnsOf(own.list);
    return isSecret(
      columns.find((c) => c.id === id)!,
      columns,
    );
  };
  expect(await secret()).toBe(true);
  await changeColumn(t.db, others.list, { does: 'secret', id: 'c3', secret: false }, 'test');
  expect(await secret()).toBe(false);
  await changeColumn(t.db, others.list, { does: 'secret', id: 'c3', secret: true }, 'test');
  expect(await secret()).toBe(true);
  // and so is what looks into that one
  const third = await job(['No'], ['key'], [['P-1']]);
  const further = await keepWorkedColumn(t.db, third.list, lookup(own.list, id) as never, 'test');
  await changeColumn(t.db, others.list, { does: 'secret', id: 'c3', secret: false }, 'test');
  await changeColumn(t.db, others.list, { does: 'secret', id: 'c3', secret: true }, 'test');
  const columns = await columnsOf(third.list);
  expect(
    isSecret(
      columns.find((c) => c.id === further)!,
      columns,
    ),
  ).toBe(true);
});

test('a copy by someone who may only look does not go on looking up what they may not', async () => {
  const { guest, others, own } = await setting('viewer');
  await keepWorkedColumn(t.db, own.list, lookup(others.list, 'c3') as never, 'test');
  const viewer = { id: guest.id, name: guest.name ?? 'Guest', right: 'viewer' as const };
  const copy = await copyJob(t.db, own.id, viewer, 'viewer');
  const { list_id } = await t.db
    .selectFrom('jobs')
    .select('list_id')
    .where('id', '=', copy)
    .executeTakeFirstOrThrow();
  expect(JSON.stringify(await columnsOf(list_id))).not.toContain('lookup');
  const { rows } = await t.pool.query('select values from records where list_id = $1', [list_id]);
  expect(JSON.stringify(rows)).not.toContain('otter-9');
});

test('a job is given no document and no rows that its writer may not look at', async () => {
  const { guest, others, own } = await setting('scanner');
  const { rows } = await t.pool.query<{ id: number }>(
    `insert into documents (kind, name, size, hash, facts, created_by)
     values ('docx', 'pay.docx', 1, 'x', '{}', 'test') returning id`,
  );
  const { document, version } = await viewJob(t.db, own.id);
  const ground = (more: object) => ({
    version,
    document: {
      ...document,
      piece: {
        ...document.piece,
        elements: [],
        ground:
          'kind' in more
            ? more
            : {
                kind: 'document',
                document: rows[0]!.id,
                name: 'pay.docx',
                places: [],
                codes: [],
                blocks: [],
                ...more,
              },
      },
    },
  });
  expect((await ask('changeJob', guest, own.id, ground({}))).status).toBe(403);
  // a reference that the job has already stays, with what it reads, and nothing else comes with it
  await changeJob(t.db, own.id, ground({}) as never, 'test');
  const later = async (more: object) => {
    const { version: now } = await viewJob(t.db, own.id);
    return (await ask('changeJob', guest, own.id, { ...ground(more), version: now })).status;
  };
  expect(await later({})).toBe(200);
  const block = { id: 'b', part: 'word/document.xml', row: 0, goes: 0, list: others.list, by: 'c1', is: 'c1' }; // prettier-ignore
  expect(await later({ blocks: [block] })).toBe(403);
  const pdfs = { kind: 'pdfs', set: 99, name: 'x', knownBy: 'name', column: 'c1', said: [], stamp: 'stamp-1', sizeMm: 20, corner: 'top left', acrossMm: 1, downMm: 1, pages: 'all' }; // prettier-ignore
  expect(await later(pdfs)).toBe(403);
});

test('a share of one job does not change the stamps of the others', async () => {
  const guest = await signedIn(t.db, 'scanner');
  const own = await job(['No', 'Name'], ['key', 'name'], [['P-1', 'Ines']]);
  await shareWith(t.db, { job: own.id }, { person: guest.id, right: 'editor' }, 'test', keeps);
  const change = async (symbology: string) => {
    const { document, version } = await viewJob(t.db, own.id);
    const stamps = document.stamps.map((s) => ({ ...s, symbology }));
    return ask('changeJob', guest, own.id, { version, document: { ...document, stamps } });
  };
  // they belong to this job alone as long as there is no other
  expect((await change('aztec')).status).toBe(200);
  const second = await addJob(t.db, own.list, { name: 'Door list' }, 'test');
  const refused = await change('code-128');
  expect(refused.status).toBe(403);
  expect(JSON.stringify(refused.body)).toContain('Door list');
  expect((await viewJob(t.db, second)).document.stamps[0]!.symbology).toBe('aztec');
  await shareWith(t.db, { list: own.list }, { person: guest.id, right: 'editor' }, 'test', keeps);
  expect((await change('code-128')).status).toBe(200);
});

test('who has something by a share sees no addresses and nobody else, and shares it no further', async () => {
  const guest = await signedIn(t.db, 'scanner');
  const other = await signedIn(t.db, 'scanner');
  const keeper = await signedIn(t.db, 'administrator');
  const own = await job(['No'], ['key'], [['P-1']]);
  for (const { id } of [guest, other])
    await shareWith(t.db, { job: own.id }, { person: id, right: 'editor' }, 'test', keeps);
  const seen = await ask('jobShares', guest, own.id);
  expect(seen.status).toBe(200);
  expect(JSON.stringify(seen.body)).not.toContain('@');
  expect(seen.body).toMatchObject({ others: [] });
  const change = { person: other.id, right: null };
  expect((await ask('shareJob', guest, own.id, change)).status).toBe(403);
  expect(JSON.stringify((await ask('jobShares', keeper, own.id)).body)).toContain('@');
  expect((await ask('shareJob', keeper, own.id, change)).status).toBe(200);
});

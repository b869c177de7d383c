import { spawn } from 'node:child_process';
import { runOnce } from 'graphile-worker';
import { sql } from 'kysely';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import { changeColumn, keepWorkedColumn } from '../../src/server/lists/columns';
import { giveAddresses } from '../../src/server/links/code-addresses';
import { editCells } from '../../src/server/lists/edits';
import { changeJob, viewJob } from '../../src/server/jobs/jobs';
import { rejudgeList } from '../../src/server/judging/judge';
import { startRun, runAgain } from '../../src/server/runs/runs';
import { allTasks, performTask } from '../../src/server/tasks/registry';
import { follow } from '../../src/server/platform/news';
import { sealOldKeys } from '../../src/server/platform/proof-keys';
import { allRoutes } from '../../src/contract';
import { viewJournal } from '../../src/server/access';
import { answer, answerOf } from '../../src/server/routes';
import { signedIn, type Signed } from '../helpers/people';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { runsIn } from '../helpers/runs';
import { argumentsOf } from '../helpers/programs';

/**
 * Secrets planted in a list: none may leave the server in any answer, file or log, unless somebody
 * asks to see it.
 */
let t: TestDatabase;
let keeper: Signed;
beforeAll(async () => {
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
  keeper = await signedIn(t.db, 'administrator');
});
afterAll(() => t.close());

const openKey = 'c0ffee'.repeat(10).slice(0, 48);
const tokens = Array.from({ length: 12 }, (_, i) => `tok/en-${i}-${'wxyz'[i % 4]!.repeat(5)}`);
let id: number;
let list: number;
let ids: number[];
const planted: string[] = [];

const { job, bytesOf } = runsIn(() => t);
const work = async () => {
  for (let i = 0; i < 8; i++) {
    await sql`update graphile_worker._private_jobs set run_at = now() where locked_at is null`.execute(
      t.db,
    );
    const list = Object.fromEntries(
      [...allTasks().keys()].map((name) => [
        name,
        (payload: unknown) => performTask(t.db, name, payload),
      ]),
    );
    await runOnce({ pgPool: t.pool, taskList: list });
  }
};
const until = (holds: () => boolean | Promise<boolean>) =>
  vi.waitUntil(holds, { interval: 100, timeout: 60_000 });
const runs: number[] = [];

beforeAll(async () => {
  const rows = tokens.map((token, i) => [`P-${i}`, `Person ${i}`, token]);
  ({ id, list } = await job(['No', 'Name', 'Token'], ['key', 'name', 'text'], rows));
  await changeColumn(t.db, list, { does: 'secret', id: 'c3', secret: true }, 'test');
  const joined = await keepWorkedColumn(
    t.db,
    list,
    {
      name: 'Pass',
      worked: {
        source: {
          kind: 'join',
          parts: [
            { kind: 'text', text: 'pass:' },
            { kind: 'column', column: 'c3' },
          ],
        },
        steps: [{ kind: 'case', to: 'capitals' }],
      },
    },
    'test',
  );
  const made = await keepWorkedColumn(
    t.db,
    list,
    { name: 'Chance', worked: { source: { kind: 'secret', length: 16 }, steps: [] } },
    'test',
  );
  const proof = await keepWorkedColumn(
    t.db,
    list,
    {
      name: 'Proof',
      worked: { source: { kind: 'proof', columns: ['c1'], key: openKey }, steps: [] },
    },
    'test',
  );
  const { version, document } = await viewJob(t.db, id);
  const [first] = document.stamps;
  const stamps = [
    {
      ...first!,
      parts: [
        { kind: 'text' as const, text: 'https://marrambay.example/?t=' },
        { kind: 'column' as const, column: 'c3' },
      ],
      does: 'page',
    },
    {
      ...first!,
      id: 's8',
      name: 'Chance',
      parts: [{ kind: 'column' as const, column: made }],
      symbology: 'code-128' as const,
    },
    {
      ...first!,
      id: 's9',
      name: 'Real',
      does: 'genuine',
      parts: [{ kind: 'text' as const, text: 'https://marrambay.example/v' }],
      fields: { signed: [{ kind: 'column' as const, column: 'c1' }] },
      proofKey: 'new',
    },
  ];
  await changeJob(t.db, id, { version, document: { ...document, stamps } }, 'test');
  // a document of an earlier version of the program, its key in the open
  await sql`update lists set stamps = (select json_agg(case when s->>'id' = 's9' then (s::jsonb || ${JSON.stringify({ proofKey: openKey })}::jsonb)::json else s end) from json_array_elements(stamps::json) s) where id = ${list}`.execute(
    t.db,
  );
  await sealOldKeys(t.db);
  await rejudgeList(t.db, list);
  const found = await t.db
    .selectFrom('records')
    .select(['id', 'values'])
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();
  ids = found.map((r) => r.id);
  await editCells(
    t.db,
    list,
    [{ record: ids[0]!, column: 'c3', value: 'tok/en-new-vvvvv' }],
    'test',
  );
  await editCells(t.db, list, [{ record: ids[1]!, column: 'c3', value: tokens[2]! }], 'test');
  const again = await t.db
    .selectFrom('records')
    .select('values')
    .where('list_id', '=', list)
    .execute();
  planted.push(...tokens, 'tok/en-new-vvvvv', openKey);
  for (const { values } of again) planted.push(values[joined]!, values[made]!, values[proof]!);
  planted.push(...planted.map((p) => encodeURIComponent(p)));
  await giveAddresses(t.db, id, first!.id, 'test');
  for (const kind of ['pdf', 'csv', 'html', 'images'] as const)
    runs.push(
      await startRun(
        t.db,
        id,
        { name: kind, which: 'with-code', output: { kind } as never },
        'test',
      ),
    );
  runs.push(await runAgain(t.db, runs[1]!, 'test'));
  await work();
});

const lies = (told: string) => planted.filter((secret) => secret && told.includes(secret));

test('thirty secrets and more are planted, and the codes say them', async () => {
  expect(new Set(planted).size).toBeGreaterThan(30);
  expect(planted.every((p) => p !== '')).toBe(true);
  const receipts = await t.db
    .selectFrom('receipts')
    .select(['payload', 'result'])
    .where('run_id', '=', runs[0]!)
    .execute();
  expect(lies(JSON.stringify(receipts)).length).toBeGreaterThan(10);
  expect(receipts.every((r) => r.result === 'read')).toBe(true);
});

const requested = (path: string, person: Signed, sent?: { method: string; body: unknown }) =>
  new Request(`http://localhost${path}`, {
    method: sent?.method,
    body: sent && JSON.stringify(sent.body),
    headers: { cookie: person.cookie, ...(sent && { 'content-type': 'application/json' }) },
  });

/** Every route that reads, with numbers of this list in place of what its path leaves open. */
async function answers(person: Signed): Promise<Map<string, string>> {
  const told = new Map<string, string>();
  const own: Record<string, number[]> = {
    jobs: [id],
    lists: [list],
    runs,
    intakes: [1],
    kept: [1],
    printers: [1],
    connections: [1],
  };
  const queries = [
    '',
    'as=json',
    'as=csv',
    `stamp=s9&record=${ids[0]}`,
    'kind=same-code&column=c3',
    'q=tok&limit=50',
    'sort=c3:up',
    `list=${list}&by=c1&give=c3`,
    `to=longest&with=${runs[1]}`,
    `from=0&to=50`,
    'name=x',
  ];
  const bodies = [
    { stamp: (await viewJob(t.db, id)).document.stamps[0], records: ids },
    { sheet: 0, run: { name: 'x', which: 'with-code' } },
    {
      worked: { source: { kind: 'join', parts: [{ kind: 'column', column: 'c3' }] }, steps: [] },
      id: '',
      record: ids[0],
    },
  ];
  for (const [name, route] of allRoutes) {
    const reads = ['proveRun', 'sealedSymbols', 'previewWorked'].includes(name);
    if (route.news || !(reads || route.method === 'GET')) continue;
    const [, , kind] = route.path.split('/');
    for (const number of own[kind!] ?? [1])
      for (const query of queries)
        for (const body of reads ? bodies : [undefined]) {
          const path = route.path
            .replace('{number}', '2')
            .replace(/\{(key|name)\}/, 'x')
            .replace(/\{\w+\}/g, String(number));
          const response = await answer(
            requested(`${path}?${query}`, person, body && { method: 'POST', body }),
          );
          told.set(
            `${path}?${query} ${body ? Object.keys(body).join() : ''} ${response.status}`,
            await response.text(),
          );
        }
  }
  return told;
}

test('in no answer of any route', async () => {
  const told = await answers(keeper);
  expect([...told.keys()].filter((key) => key.endsWith(' 200')).length).toBeGreaterThan(120);
  for (const [what, text] of told) expect([what, lies(text)]).toEqual([what, []]);
  // except to a person who asks to see them
  const asked = await answer(requested(`/api/jobs/${id}/rows?reveal=c3`, keeper));
  expect(lies(await asked.text())).toContain(tokens[5]);
});

test('in no answer to those who only look, ask as they may, nor in what is found or sorted by them', async () => {
  const looker = await signedIn(t.db, 'viewer');
  const told = await answers(looker);
  expect([...told.keys()].filter((key) => key.endsWith(' 200')).length).toBeGreaterThan(100);
  for (const [what, text] of told) expect([what, lies(text)]).toEqual([what, []]);
  const asks = async (path: string) => {
    const response = await answer(requested(`/api/jobs/${id}/${path}`, looker));
    return { status: response.status, json: (await response.json()) as { total?: number } };
  };
  expect((await asks('rows?reveal=c3')).status).toBe(403);
  expect((await asks('rows?sort=c3:up')).status).toBe(403);
  expect((await asks('ids?sort=c3:up')).status).toBe(403);
  const where = encodeURIComponent(JSON.stringify([{ column: 'c3', is: 'holds', text: 'tok' }]));
  expect((await asks(`rows?where=${where}`)).status).toBe(403);
  // a search does not find hidden values, which would reveal them letter by letter
  expect((await asks(`rows?q=${encodeURIComponent(tokens[5]!)}`)).json.total).toBe(0);
});

test('a picture of a code that says a secret is not drawn for those who only look', async () => {
  const stamp = (await viewJob(t.db, id)).document.stamps[0]!;
  const symbols = async (person: Signed) => {
    const body = { stamp, records: ids.slice(0, 2) };
    const response = await answer(requested('/api/symbols', person, { method: 'POST', body }));
    return Object.values(
      ((await response.json()) as { symbols: Record<string, { symbol: unknown }> }).symbols,
    ).map((one) => one.symbol !== null);
  };
  expect(await symbols(keeper)).toEqual([true, true]);
  expect(await symbols(await signedIn(t.db, 'viewer'))).toEqual([false, false]);
});

test('in no file that a run made, for those who only look; whoever takes it otherwise is written down', async () => {
  const file = await t.db
    .selectFrom('files')
    .select('id')
    .where('run_id', '=', runs[0]!)
    .executeTakeFirstOrThrow();
  const takes = (person: Signed) => answer(requested(`/api/files/${file.id}`, person));
  expect((await takes(await signedIn(t.db, 'viewer'))).status).toBe(403);
  expect((await takes(keeper)).status).toBe(200);
  const { lines } = await viewJournal(t.db, { q: 'secrets' });
  const told = lines.map((line) => `${line.who}: ${line.what}`);
  expect(told[0]).toBe(`${keeper.name}: Downloaded a file with secrets`);
  // however many windows of records were loaded, the journal has one line
  expect(told.filter((line) => line === `${keeper.name}: Showed secrets`)).toHaveLength(1);
  expect(lines.every((line) => line.who === keeper.name)).toBe(true);
});

test('in no receipt, list or page that a run makes, where nobody asked for them', async () => {
  for (const [run, ending] of [
    [runs[0], 'receipt.csv'],
    [runs[1], '.csv'],
    [runs[2], '.html'],
    [runs[2], 'receipt.csv'],
    [runs[4], '.csv'],
  ] as const)
    expect([ending, lies((await bytesOf(run!, ending)).toString())]).toEqual([ending, []]);
});

test('no key lies in any table, and values only in the tables that hold values', async () => {
  const { rows } = await sql<{
    name: string;
  }>`select table_name as name from information_schema.tables where table_schema = 'public'`.execute(
    t.db,
  );
  const holds = new Set<string>();
  for (const { name } of rows) {
    const { rows: all } = await sql<{
      text: string;
    }>`select x::text as text from ${sql.table(name)} x`.execute(t.db);
    const text = all.map((row) => row.text).join('\n');
    expect([name, text.includes(openKey)]).toEqual([name, false]);
    if (lies(text).length > 0) holds.add(name);
  }
  expect([...holds].sort()).toEqual([
    'prints',
    'receipts',
    'records',
    'revision_rows',
    'run_items',
  ]);
});

test('in no news, and in no line that a worker writes, however much it is told to say', async () => {
  const heard: string[] = [];
  const stop = await follow((what) => heard.push(what), t.url);
  const before = await t.db
    .selectFrom('records')
    .select('values')
    .where('id', '=', ids[3]!)
    .executeTakeFirstOrThrow();
  const edit = (value: string) =>
    editCells(t.db, list, [{ record: ids[3]!, column: 'c3', value }], 'test');
  await edit('tok/en-heard-zzzzz');
  await edit(before.values.c3!);
  await until(() => heard.includes(`list:${list}`));
  stop();
  expect(lies(heard.join())).toEqual([]);

  const run = await startRun(t.db, id, { name: 'told', which: 'with-code' }, 'test');
  // a run with a broken document makes a task fail, which is when a log says most
  const broken = await startRun(t.db, id, { name: 'broken', which: 'with-code' }, 'test');
  await sql`update runs set frozen = (frozen::jsonb - 'piece')::json where id = ${broken}`.execute(
    t.db,
  );
  const child = spawn(process.execPath, argumentsOf('src/server/tasks/worker'), {
    env: { ...process.env, DATABASE_URL: t.url, LOG_LEVEL: 'trace' },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  child.stdout.on('data', (data: Buffer) => (said += data.toString()));
  child.stderr.on('data', (data: Buffer) => (said += data.toString()));
  const state = async (number: number) =>
    (
      await t.db
        .selectFrom('runs')
        .select('state')
        .where('id', '=', number)
        .executeTakeFirstOrThrow()
    ).state;
  try {
    await until(async () => (await state(run)) === 'done' && said.includes('task failed'));
  } finally {
    child.kill('SIGKILL');
  }
  expect(said).toContain('run finished');
  expect(lies(said)).toEqual([]);
});

test('the picture at an address says its secret to a scanner only', async () => {
  const addresses = await t.db.selectFrom('code_addresses').select('token').execute();
  expect(addresses.length).toBeGreaterThan(5);
  for (const { token } of addresses)
    for (const name of [`${token}.svg`, `${token}.eps`, `${token}.doc`]) {
      const given = await answerOf('codePicture')(new Request(`http://localhost/c/${name}`), {
        params: Promise.resolve({ name }),
      });
      expect([given.status, lies(await given.text())]).toEqual([
        name.endsWith('doc') ? 404 : 200,
        [],
      ]);
    }
});

test('a secret names no file', async () => {
  await expect(
    startRun(
      t.db,
      id,
      { name: 'x', which: 'with-code', output: { kind: 'pdf-each', nameFrom: 'c3' } as never },
      'test',
    ),
  ).rejects.toThrow('Token is secret');
});

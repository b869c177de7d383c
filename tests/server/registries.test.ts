import { readdirSync } from 'node:fs';
import { runOnce } from 'graphile-worker';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { z } from 'zod';
import { allRoutes, newRunSchema, type Route } from '../../src/contract';
import { addOutput, allOutputs } from '../../src/core/run/outputs';
import { addMaker } from '../../src/server/outputs';
import { defineTask, enqueue, taskCard } from '../../src/server/platform';
import { addTask, allTasks } from '../../src/server/tasks/registry';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { runsIn } from '../helpers/runs';

/** What can be added to the product from one place: an output, a task, a route. */
let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
});
afterAll(() => t.close());
const { job, run, bytesOf } = runsIn(() => t);

test('an output is added from outside: its description, and how it is made', async () => {
  expect(newRunSchema.shape.output.safeParse({ kind: 'tally' }).success).toBe(false);
  addOutput({
    id: 'tally',
    name: 'a tally',
    about: 'A line for each record.',
    noun: ['line', 'lines'],
    named: true,
    most: { records: 3, words: 'A tally' },
  });
  addMaker('tally', {
    perRecord: async (_, { seq, name, values }) => ({
      parts: [{ name, bytes: Buffer.from(`${seq + 1}: ${values.c2}\n`) }],
      codes: [{ stamp: 'stamp-1', payload: values.c1!, result: 'read', read: values.c1! }],
    }),
    assemble: async ({ db, runId, title }) => ({
      ending: '.tally',
      mime: 'text/plain',
      bytes: (async function* () {
        yield Buffer.from(`${title}\n`);
        const parts = await db
          .selectFrom('run_parts')
          .select('bytes')
          .where('run_id', '=', runId)
          .orderBy('seq')
          .execute();
        for (const { bytes } of parts) yield bytes;
      })(),
    }),
  });
  expect(allOutputs().at(-1)!.name).toBe('a tally');
  const { id } = await job(
    ['No', 'Name'],
    ['key', 'name'],
    [
      ['A-1', 'Wren'],
      ['A-2', 'Tam'],
    ],
  );
  const made = await run(id, { name: 'Count', output: { kind: 'tally' } });
  expect((await bytesOf(made, '.tally')).toString()).toBe('Count\n1: Wren\n2: Tam\n');
  expect((await bytesOf(made, '-receipt.csv')).toString()).toContain('A-2');
  const long = await job(
    ['No', 'Name'],
    ['key', 'name'],
    Array.from({ length: 4 }, (_, i) => [`B-${i}`, `Person ${i}`]),
  );
  await expect(run(long.id, { output: { kind: 'tally' } })).rejects.toThrow(
    'A tally holds up to 3 records; these are 4.',
  );
});

test('a task is added from outside, put into the queue and done', async () => {
  const done: number[] = [];
  const card = taskCard('test.count', z.object({ n: z.number() }), { short: true });
  addTask(defineTask(card, async (_, { n }) => void done.push(n)));
  await enqueue(t.db, card, { n: 7 });
  await t.db.transaction().execute(async (tx) => {
    await enqueue(tx, card, { n: 8 });
  });
  await t.db
    .transaction()
    .execute(async (tx) => {
      await enqueue(tx, card, { n: 9 });
      throw new Error('no');
    })
    .catch(() => undefined);
  const task = allTasks().get('test.count')!;
  await runOnce({
    pgPool: t.pool,
    taskList: { [task.name]: (payload) => task.run(t.db, task.schema.parse(payload)) },
  });
  expect(done.sort()).toEqual([7, 8]);
});

test('every route of the contract has its handler at its path, and no handler is without one', async () => {
  const handled = new Map<string, Route>();
  const files = (readdirSync('src/app', { recursive: true }) as string[]).filter((f) =>
    f.endsWith('route.ts'),
  );
  for (const file of files) {
    const module = (await import(/* @vite-ignore */ `../../src/app/${file}`)) as Record<
      string,
      { route?: Route }
    >;
    const path = `/${file.replace('/route.ts', '').replace(/\[(\w+)\]/g, '{$1}')}`;
    for (const [method, handler] of Object.entries(module)) {
      expect([file, method, handler.route?.method, handler.route?.path]).toEqual([
        file,
        method,
        method,
        path,
      ]);
      handled.set(`${method} ${path}`, handler.route!);
    }
  }
  const declared = allRoutes.map(([, route]) => `${route.method} ${route.path}`);
  expect(new Set(declared).size).toBe(declared.length);
  expect([...handled.keys()].sort()).toEqual([...declared].sort());
  expect(declared.length).toBeGreaterThan(60);
});

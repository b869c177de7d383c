import { readdirSync } from 'node:fs';
import { runOnce } from 'graphile-worker';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { z } from 'zod';
import { allRoutes, newRunSchema, type Route } from '../../src/contract';
import { allOutputs, type OutputId } from '../../src/core/run/outputs';
import { makerOf, type Makers, type OutputMaker } from '../../src/server/outputs';
import { defineTask, enqueue, taskCard } from '../../src/server/platform';
import { testDatabase, type TestDatabase } from '../helpers/database';

/** What the product is put together from: outputs, tasks, routes. */
let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
});
afterAll(() => t.close());

test('an output without a maker does not compile, and one that is not there is refused', () => {
  // the whole table compiles, and every entry is an output that can be chosen
  type Complete = Makers extends { [K in OutputId]: OutputMaker } ? true : false;
  const complete: Complete = true;
  // @ts-expect-error without the maker of one output it is no table of makers
  const lacking: Omit<Makers, 'csv'> extends Makers ? true : false = true;
  expect([complete, lacking]).toEqual([true, true]);
  for (const { id } of allOutputs()) {
    expect(newRunSchema.shape.output.safeParse({ kind: id }).success).toBe(true);
    expect(makerOf(id).assemble).toBeTypeOf('function');
  }
  expect(newRunSchema.shape.output.safeParse({ kind: 'tally' }).success).toBe(false);
  expect(() => makerOf('constructor')).toThrow('there is no output constructor');
});

test('a task is put into the queue and done, or not put there with what failed', async () => {
  const done: number[] = [];
  const card = taskCard('test.count', z.object({ n: z.number() }), { short: true });
  const task = defineTask(card, async (_, { n }) => void done.push(n));
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

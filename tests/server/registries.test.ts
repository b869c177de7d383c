import { readdirSync } from 'node:fs';
import { runOnce } from 'graphile-worker';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { z } from 'zod';
import { allRoutes, newRunSchema, type Route, type Routes } from '../../src/contract';
import { allOutputs, type OutputId } from '../../src/core/run/outputs';
import type { Handlers } from '../../src/server/access';
import { answer, answerOf, found } from '../../src/server/routes';
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

test('a route without a handler does not compile, and each is found at its path', async () => {
  const complete: Handlers extends { [N in keyof Routes]: unknown } ? true : false = true;
  // @ts-expect-error without the handler of one route it is no table of handlers
  const lacking: Omit<Handlers, 'viewJob'> extends Handlers ? true : false = true;
  expect([complete, lacking]).toEqual([true, true]);
  const declared = allRoutes.map(([, route]) => `${route.method} ${route.path}`);
  expect(new Set(declared).size).toBe(declared.length);
  expect(declared.length).toBeGreaterThan(240);
  for (const [name, route] of allRoutes) {
    expect(answerOf(name).route).toBe(route);
    // no other stands before it: nothing is at the path, or what is there says no in its own words
    const path = route.path.replace(/\{\w+\}/g, 'x');
    expect([path, found(route.method, path)?.route]).toEqual([path, route]);
  }
});

test('light routes of Next.js have the handlers of the contract at their paths', async () => {
  const files = (readdirSync('src/app', { recursive: true }) as string[]).filter(
    (f) => f.endsWith('route.ts') && !f.includes('[...'),
  );
  const handled: string[] = [];
  for (const file of files) {
    const module = (await import(/* @vite-ignore */ `../../src/app/${file}`)) as Record<
      string,
      { route?: Route }
    >;
    const path = `/${file.replace('/route.ts', '').replace(/\[(\w+)\]/g, '{$1}')}`;
    for (const [method, handler] of Object.entries(module)) {
      expect([handler.route?.method, handler.route?.path]).toEqual([method, path]);
      handled.push(`${method} ${path}`);
    }
  }
  const light = allRoutes
    .map(([, route]) => `${route.method} ${route.path}`)
    .filter((line) => !line.includes(' /api/'));
  expect(handled.sort()).toEqual(light.sort());
});

test('where there is no such path it says so, and where there is no such method, which there are', async () => {
  const asks = async (method: string, path: string) => {
    const given = await answer(new Request(`http://localhost${path}`, { method }));
    return [given.status, given.headers.get('allow'), await given.text()];
  };
  expect(await asks('GET', '/api/nothing')).toEqual([
    404,
    null,
    '{"error":"There is nothing at this address."}',
  ]);
  expect(await asks('POST', '/api/v1/nothing')).toEqual([
    404,
    null,
    expect.stringContaining('"status":404'),
  ]);
  expect(await asks('PUT', '/api/jobs/7/runs')).toEqual([
    405,
    'GET, POST, HEAD, OPTIONS',
    '{"error":"This address does not take PUT."}',
  ]);
  expect(await asks('OPTIONS', '/api/jobs/7/runs')).toEqual([204, 'GET, POST, HEAD, OPTIONS', '']);
});

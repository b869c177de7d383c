import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { z } from 'zod';
import * as contract from '../../../src/contract';
import { addressOf, allRoutes, type ApiRecord, type Route } from '../../../src/contract';
import { keyRights, type KeyRight } from '../../../src/core/access/keys';
import { makeKey } from '../../../src/server/access';
import { openApi } from '../../../src/server/api';
import { changeColumn } from '../../../src/server/lists';
import { recordPage, startPages } from '../../../src/server/pages';
import { answer } from '../../../src/server/routes';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
});
afterAll(() => t.close());
const { job } = runsIn(() => t);

const keyOf = async (
  rights: readonly KeyRight[] = keyRights,
  list: number | null = null,
  ends: string | null = null,
) => (await makeKey(t.db, { name: 'An app', rights: [...rights], list, ends }, 'test')).key;

interface Asks {
  params?: Record<string, unknown>;
  query?: Record<string, unknown>;
  body?: unknown;
  raw?: string;
  headers?: Record<string, string>;
}
async function ask(
  route: Route,
  key: string | undefined,
  { params = {}, query, body, raw, headers }: Asks = {},
) {
  const sent = raw ?? (body === undefined ? undefined : JSON.stringify(body));
  const given = await answer(
    new Request(`http://localhost${addressOf(route, { params, query })}`, {
      method: route.method,
      body: sent,
      headers: {
        ...(key ? { authorization: `Bearer ${key}` } : {}),
        ...(route.body ? { 'content-type': 'application/json' } : {}),
        ...(sent === undefined ? {} : { 'content-length': String(Buffer.byteLength(sent)) }),
        ...headers,
      },
    }),
  );
  const type = given.headers.get('content-type') ?? '';
  const text = await given.text();
  return {
    status: given.status,
    type,
    headers: given.headers,
    text,
    json: (type.includes('json') ? JSON.parse(text) : undefined) as never,
  };
}
const garden = () =>
  job(
    ['No', 'Plant', 'Token'],
    ['key', 'name', 'text'],
    [
      ['A-1', 'Thrift', 'hush'],
      ['A-2', 'Sea kale', 'mum'],
    ],
  );
const v1 = allRoutes.filter(([, route]) => route.path.startsWith('/api/v1/'));

describe('the whole of a code on a record when it is created', () => {
  test('is one call: the record, its page, its picture and what its code says', async () => {
    const { list } = await garden();
    await startPages(t.db, list, 'test');
    const key = await keyOf(['reads', 'writes']);
    const { status, json } = await ask(contract.apiCreateRecord, key, {
      params: { id: list },
      body: { values: { no: 'A-9', Plant: 'Sea holly' } },
    });
    const record = json as ApiRecord;
    expect(status).toBe(200);
    expect(record).toMatchObject({
      list,
      number: 3,
      values: { No: 'A-9', Plant: 'Sea holly' },
      codes: [{ payload: 'A-9' }],
    });
    const id = record.page!.split('/r/')[1]!;
    expect(await (await recordPage(t.db, id, new Request('http://localhost'))).text()).toContain(
      'Sea holly',
    );
    const picture = (headers = {}) => answer(new Request(record.picture!, { headers }));
    const first = await picture();
    expect(first.headers.get('content-type')).toBe('image/png');
    expect(first.headers.get('access-control-allow-origin')).toBe('*');
    const etag = first.headers.get('etag')!;
    expect((await picture({ 'if-none-match': `W/${etag}, "x"` })).status).toBe(304);
    expect((await picture({ 'if-none-match': '"other"' })).status).toBe(200);
  });
  test('is done once for its Idempotency-Key, also when ten ask at once', async () => {
    const { list } = await garden();
    const key = await keyOf();
    const body = { values: { No: 'once' } };
    const asks = { params: { id: list }, body, headers: { 'idempotency-key': 'k-1' } };
    const many = await Promise.all(
      Array.from({ length: 10 }, () => ask(contract.apiCreateRecord, key, asks)),
    );
    const again = await ask(contract.apiCreateRecord, key, asks);
    expect(again.status).toBe(200);
    for (const one of many) expect([200, 409]).toContain(one.status);
    const ids = [...many, again]
      .filter((a) => a.status === 200)
      .map((a) => (a.json as ApiRecord).id);
    expect(new Set(ids).size).toBe(1);
    const rows = await t.db
      .selectFrom('records')
      .select('id')
      .where('list_id', '=', list)
      .execute();
    expect(rows).toHaveLength(3);
    const other = await ask(contract.apiCreateRecord, key, {
      ...asks,
      body: { values: { No: 'other' } },
    });
    expect(other.status).toBe(422);
    // a refused request is corrected and sent again with the same key
    const wrong = { params: { id: list }, headers: { 'idempotency-key': 'k-2' } };
    expect(
      (await ask(contract.apiCreateRecord, key, { ...wrong, body: { values: { Nothing: 'x' } } }))
        .status,
    ).toBe(400);
    expect(
      (await ask(contract.apiCreateRecord, key, { ...wrong, body: { values: { No: 'mended' } } }))
        .status,
    ).toBe(200);
  });
});

describe('records', () => {
  test('are read in pages to the last, none twice', async () => {
    const { list } = await garden();
    const key = await keyOf();
    const raw = Array.from({ length: 250 }, (_, i) => JSON.stringify({ No: `N-${i}` })).join('\n');
    expect((await ask(contract.apiCreateRecords, key, { params: { id: list }, raw })).status).toBe(
      200,
    );
    const seen: number[] = [];
    let cursor: string | undefined;
    do {
      const { json } = await ask(contract.apiRecords, key, {
        params: { id: list },
        query: { limit: 100, cursor },
      });
      const page = json as { records: ApiRecord[]; next: string | null };
      seen.push(...page.records.map((r) => r.id));
      cursor = page.next ?? undefined;
    } while (cursor);
    expect(new Set(seen).size).toBe(252);
    expect(seen).toHaveLength(252);
    expect(
      (await ask(contract.apiRecords, key, { params: { id: list }, query: { cursor: 'nonsense' } }))
        .status,
    ).toBe(400);
  });
  test('come in by the thousand or not at all, with the line that is wrong', async () => {
    const { list } = await garden();
    const key = await keyOf();
    const count = async () =>
      (await t.db.selectFrom('records').select('id').where('list_id', '=', list).execute()).length;
    for (const [raw, says] of [
      ['{"No":"1"}\nno json', 'Line 2'],
      ['{"No":"1"}\n{"No":5}', 'Line 2'],
      ['{"No":"1"}\n{"Other":"x"}', 'no column “Other”'],
      ['', 'no record'],
      [Array.from({ length: 10_001 }, () => '{"No":"1"}').join('\n'), '10,000'],
    ] as const) {
      const { status, json } = await ask(contract.apiCreateRecords, key, {
        params: { id: list },
        raw,
      });
      expect([status < 500 && status >= 400, (json as { detail: string }).detail]).toEqual([
        true,
        expect.stringContaining(says),
      ]);
    }
    expect(await count()).toBe(2);
  });
  test('are changed only where they are as they were read', async () => {
    const { list } = await garden();
    const key = await keyOf();
    const made = (
      await ask(contract.apiCreateRecord, key, {
        params: { id: list },
        body: { values: { No: 'A-5', Plant: 'Old' } },
      })
    ).json as ApiRecord;
    const params = { id: list, record: made.id };
    const tag = (await ask(contract.apiRecord, key, { params })).headers.get('etag')!;
    const change = (Plant: string, match?: string) =>
      ask(contract.apiChangeRecord, key, {
        params,
        body: { values: { Plant } },
        headers: match ? { 'if-match': match } : {},
      });
    const first = await change('New', tag);
    expect(first.status).toBe(200);
    expect(first.headers.get('etag')).not.toBe(tag);
    expect((await change('Late', tag)).status).toBe(412);
    expect(
      (await ask(contract.apiRemoveRecord, key, { params, headers: { 'if-match': tag } })).status,
    ).toBe(412);
    const race = await Promise.all(
      ['x', 'y', 'z'].map((plant) => change(plant, first.headers.get('etag')!)),
    );
    expect(race.map((r) => r.status).sort()).toEqual([200, 412, 412]);
    // also where all five would write the same
    const now = (await ask(contract.apiRecord, key, { params })).headers.get('etag')!;
    const five = await Promise.all(Array.from({ length: 5 }, () => change('Same', now)));
    expect(five.map((r) => r.status).sort()).toEqual([200, 412, 412, 412, 412]);
    expect((await ask(contract.apiRemoveRecord, key, { params })).status).toBe(200);
    expect((await ask(contract.apiRecord, key, { params })).status).toBe(404);
    expect((await ask(contract.apiRemoveRecord, key, { params })).status).toBe(404);
  });
  test('bulk under one key are compared by what they say, not by how long it is', async () => {
    const { list } = await garden();
    const key = await keyOf();
    const bulk = (lines: string, repeat = 'lot-1') =>
      ask(contract.apiCreateRecords, key, {
        params: { id: list },
        raw: lines,
        headers: { 'idempotency-key': repeat },
      });
    const first = await bulk('{"No":"B-1"}\n{"No":"B-2"}');
    expect(first.status).toBe(200);
    expect((await bulk('{"No":"B-1"}\n{"No":"B-2"}')).json).toEqual(first.json);
    expect((await bulk('{"No":"C-1"}\n{"No":"C-2"}')).status).toBe(422);
    // a refused request is forgotten with its key, and has created nothing
    expect((await bulk('{"No":"D-1"}\n{"Nope":"D-2"}', 'lot-2')).status).toBe(400);
    expect((await bulk('{"No":"D-1"}\n{"No":"D-2"}', 'lot-2')).status).toBe(200);
    const kept = await t.db
      .selectFrom('records')
      .select('values')
      .where('list_id', '=', list)
      .execute();
    expect(kept.map((r) => r.values.c1).filter((no) => /^[BCD]/.test(no ?? ''))).toEqual([
      'B-1',
      'B-2',
      'D-1',
      'D-2',
    ]);
  });
  test('with a field that is not known are refused, and mean nothing else', async () => {
    const { id, list } = await garden();
    const key = await keyOf();
    const { records } = (await ask(contract.apiRecords, key, { params: { id: list } })).json as {
      records: ApiRecord[];
    };
    const run = (body: object) => ask(contract.apiStartRun, key, { params: { id }, body });
    const slip = await run({ name: 'Slip', record: [records[0]!.id] });
    expect([slip.status, (slip.json as { detail: string }).detail]).toEqual([
      400,
      expect.stringContaining('no field “record” here'),
    ]);
    // records of another list, and of none
    const other = await garden();
    const { records: foreign } = (
      await ask(contract.apiRecords, key, { params: { id: other.list } })
    ).json as { records: ApiRecord[] };
    for (const ids of [[foreign[0]!.id], [records[0]!.id, 2_000_000]])
      expect([ids, (await run({ name: 'Foreign', records: ids })).status]).toEqual([ids, 404]);
    const runs = await t.db.selectFrom('runs').select('id').where('job_id', '=', id).execute();
    expect(runs).toEqual([]);
  });
  test('keep what is secret from a key that does not see it', async () => {
    const { list } = await garden();
    await changeColumn(t.db, list, { does: 'secret', id: 'c3', secret: true }, 'test');
    const plain = await keyOf(['reads', 'writes']);
    const sees = await keyOf();
    const of = async (key: string) =>
      (await ask(contract.apiRecords, key, { params: { id: list } })).text;
    expect(await of(plain)).not.toContain('hush');
    expect(await of(sees)).toContain('hush');
    expect(
      (
        await ask(contract.apiCreateRecord, plain, {
          params: { id: list },
          body: { values: { Token: 'x' } },
        })
      ).status,
    ).toBe(403);
  });
});

describe('a key', () => {
  const walk = async (key: string | undefined, of: { list: number; job: number }) => {
    const out: [string, number][] = [];
    for (const [name, route] of v1.filter(([, r]) => r.key)) {
      const id = route.of === 'job' ? of.job : route.of === 'run' ? 2_000_000_000 : of.list;
      out.push([
        name,
        (
          await ask(route, key, {
            params: { id, record: 2_000_000_000, file: 1, code: '222222222' },
            body: route.body ? {} : undefined,
            raw: route.upload ? '' : undefined,
          })
        ).status,
      ]);
    }
    return out;
  };
  test('is needed, is good while it is, and is for what it is for', async () => {
    const { id, list } = await garden();
    const of = { list, job: id };
    const over = await keyOf(keyRights, null, '2099-12-31');
    await t.db
      .updateTable('api_keys')
      .set({ ends: '2020-01-01' })
      .where('ends', '=', '2099-12-31')
      .execute();
    await expect(keyOf(keyRights, null, '2020-01-01')).rejects.toThrow('in the past');
    const none = [undefined, 'hsk_made-up', over];
    for (const key of none)
      for (const [name, status] of await walk(key, of)) expect([name, status]).toEqual([name, 401]);
    for (const right of keyRights) {
      const key = await keyOf([right]);
      const found = await walk(key, of);
      for (const [i, [name, route]] of v1.filter(([, r]) => r.key).entries())
        expect([right, name, found[i]![1] === 403]).toEqual([right, name, route.key !== right]);
    }
  });
  test('of one list finds no other, whether or not it is there', async () => {
    const mine = await garden();
    const other = await garden();
    const key = await keyOf(keyRights, mine.list);
    for (const [name, status] of await walk(key, { list: other.list, job: other.id }))
      if (!['apiLists', 'apiJobs', 'apiMakeLink', 'apiChangeLink'].includes(name))
        expect([name, status]).toEqual([name, 404]);
    const lists = (await ask(contract.apiLists, key)).json as { lists: { id: number }[] };
    expect(lists.lists.map((l) => l.id)).toEqual([mine.list]);
    const jobs = (await ask(contract.apiJobs, key)).json as { jobs: { id: number }[] };
    expect(jobs.jobs.map((j) => j.id)).toEqual([mine.id]);
  });
  test('is kept as a hash, tells how much is left, and asks at a pace', async () => {
    const key = await keyOf(['reads']);
    const kept = JSON.stringify(await t.db.selectFrom('api_keys').selectAll().execute());
    expect(kept).not.toContain(key);
    const first = await ask(contract.apiLists, key);
    expect(Number(first.headers.get('ratelimit-remaining'))).toBe(599);
    let refused = 0;
    for (let i = 0; i < 620; i++) if ((await ask(contract.apiJobs, key)).status === 429) refused++;
    expect(refused).toBe(21);
  });
  test('of one list makes and points no link but those of its list', async () => {
    const { list } = await garden();
    const all = await keyOf();
    const body = { title: 'Map', to: 'https://marrambay.example/map' };
    const { code } = (await ask(contract.apiMakeLink, all, { body })).json as { code: string };
    const mine = await keyOf(keyRights, list);
    const params = { code };
    expect((await ask(contract.apiMakeLink, mine, { body })).status).toBe(403);
    expect((await ask(contract.apiLink, mine, { params })).status).toBe(404);
    const elsewhere = { to: 'https://marrambay.example/elsewhere' };
    expect((await ask(contract.apiChangeLink, mine, { params, body: elsewhere })).status).toBe(404);
    expect(
      (await ask(contract.apiChangeLink, all, { params, body: elsewhere })).json,
    ).toMatchObject({
      leads: elsewhere.to,
    });
    const ring = {
      to: ((await ask(contract.apiLink, all, { params })).json as { address: string }).address,
    };
    expect((await ask(contract.apiChangeLink, all, { params, body: ring })).status).toBe(400);
    const tag = (await ask(contract.apiLink, all, { params })).headers.get('etag')!;
    const point = (to: string) =>
      ask(contract.apiChangeLink, all, { params, body: { to }, headers: { 'if-match': tag } });
    const race = await Promise.all(
      ['a', 'b', 'c'].map((x) => point(`https://marrambay.example/${x}`)),
    );
    expect(race.map((r) => r.status).sort()).toEqual([200, 412, 412]);
  });
  test('leaves its name in the journal', async () => {
    const { list } = await garden();
    await ask(contract.apiCreateRecord, await keyOf(), {
      params: { id: list },
      body: { values: { No: 'j' } },
    });
    const line = await t.db
      .selectFrom('journal')
      .select(['who', 'outcome'])
      .where('list_id', '=', list)
      .orderBy('id', 'desc')
      .executeTakeFirstOrThrow();
    expect(line).toEqual({ who: 'the key An app', outcome: 'done' });
  });
});

type Schema = {
  type?: string;
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema;
  additionalProperties?: Schema;
  enum?: unknown[];
  maxLength?: number;
};
/** Something that a schema takes, as far as the schemas here go. */
function ofSchema(schema: Schema): fc.Arbitrary<unknown> {
  if (schema.enum) return fc.constantFrom(...schema.enum);
  if (schema.type === 'object') {
    const known = fc.record(
      Object.fromEntries(
        Object.entries(schema.properties ?? {}).map(([name, of]) => [name, ofSchema(of)]),
      ),
      { requiredKeys: schema.required ?? [] },
    );
    if (typeof schema.additionalProperties !== 'object') return known;
    return fc.dictionary(
      fc.constantFrom('No', 'Plant', 'Token', 'no', 'Nothing', '__proto__'),
      ofSchema(schema.additionalProperties),
      { maxKeys: 3 },
    );
  }
  if (schema.type === 'array') return fc.array(ofSchema(schema.items ?? {}), { maxLength: 3 });
  if (schema.type === 'integer' || schema.type === 'number')
    return fc.integer({ min: -3, max: 2 ** 31 });
  return fc.string({ unit: 'binary', maxLength: 40 });
}

describe('the document in OpenAPI', () => {
  test('describes every route, and every route answers as it says, whatever it is asked', async () => {
    const { id, list } = await garden();
    const document = openApi('http://localhost') as {
      openapi: string;
      paths: Record<
        string,
        Record<string, { requestBody?: { content: Record<string, { schema: Schema }> } }>
      >;
    };
    expect(document.openapi).toBe('3.1.0');
    expect(Object.values(document.paths).flatMap((m) => Object.keys(m))).toHaveLength(v1.length);
    for (const [name, route] of v1) {
      const operation = document.paths[route.path]![route.method.toLowerCase()]!;
      const schema = operation.requestBody?.content['application/json']?.schema;
      const anyId = fc.constantFrom<unknown>(
        route.of === 'job' ? id : list,
        0,
        -1,
        'x',
        '1e9',
        2 ** 40,
      );
      const key = await keyOf();
      await fc.assert(
        fc.asyncProperty(
          fc.record({
            id: anyId,
            record: fc.constantFrom<unknown>(1, 'x', 99_999),
            file: anyId,
            code: fc.constantFrom('222222222', 'x', '%', 'B2WE8KLN'),
          }),
          schema ? fc.oneof(ofSchema(schema), fc.anything()) : fc.constant(undefined),
          fc.string({ unit: 'binary', maxLength: 60 }),
          async (params, body, text) => {
            const sent = body === undefined ? undefined : (JSON.stringify(body) ?? 'null');
            const { status, type, json } = await ask(route, key, {
              params,
              raw: route.upload ? text : route.body ? (sent ?? 'null') : undefined,
              query: name === 'apiRecords' ? { cursor: text } : undefined,
            });
            expect(status).toBeLessThan(500);
            if (status !== 200) {
              expect(type).toBe('application/problem+json');
              expect(
                z
                  .object({
                    type: z.string(),
                    title: z.string(),
                    status: z.literal(status),
                    detail: z.string().min(8),
                  })
                  .safeParse(json).success,
              ).toBe(true);
            } else if (!('files' in route.answer))
              expect(route.answer.safeParse(json).success).toBe(true);
          },
        ),
        { numRuns: 25 },
      );
    }
  });
});

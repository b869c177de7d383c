import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { sql } from 'kysely';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import * as contract from '../../src/contract';
import { allRoutes, type Route } from '../../src/contract';
import { includes, type Right, rights } from '../../src/core/access/rights';
import { shareWith } from '../../src/server/access';
import { changeJob, viewJob } from '../../src/server/jobs';
import { editCells } from '../../src/server/lists';
import type { Stamp } from '../../src/core/payload/stamp';
import { pathsFile } from '../../scripts/paths-file';
import { rightsPage } from '../../scripts/rights-page';
import { answer } from '../../src/server/routes';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { password, sessionOf, signedIn, type Signed } from '../helpers/people';
import { runsIn } from '../helpers/runs';

/** Who may do what: every route with every right, without any, and from elsewhere. */
let t: TestDatabase;
const people = {} as Record<Right, Signed>;
beforeAll(async () => {
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
  for (const right of rights) people[right] = await signedIn(t.db, right);
});
afterAll(() => t.close());
const { job } = runsIn(() => t);

/**
 * The status of a route; if nothing of that number exists, and nothing is sent, a person with the
 * right gets another refusal.
 */
async function asks(
  route: Route,
  headers: Record<string, string>,
  { id = '2000000000', body }: { id?: string; body?: unknown } = {},
  whole = false,
): Promise<Response> {
  const request = new Request(`http://localhost${route.path.replace(/\{\w+\}/g, id)}`, {
    method: route.method,
    headers: {
      host: 'localhost',
      ...headers,
      ...(body ? { 'content-type': 'application/json' } : {}),
    },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  const given = await answer(request);
  if (!whole) await given.body?.cancel().catch(() => undefined);
  return given;
}
const status = async (...asked: Parameters<typeof asks>) => (await asks(...asked)).status;

/** Ends all sessions of a person, or never ends: not for a walk over all routes. */
const apart = new Set(['/api/me/sessions', '/api/sign-out', '/api/jobs/{id}/news']);
const walked = allRoutes.filter(([, route]) => !apart.has(route.path));

describe('all routes', () => {
  test.each(['nobody', ...rights] as const)(
    'do for %s what is declared, and nothing else',
    async (who) => {
      const found: [string, string][] = [];
      const declared: [string, string][] = [];
      for (const [name, route] of walked) {
        const code = await status(route, who === 'nobody' ? {} : { cookie: people[who].cookie });
        const answered =
          code === 401 && route.right !== 'anyone' ? 'nobody' : code === 403 ? 'refused' : 'let in';
        found.push([name, answered]);
        declared.push([
          name,
          route.right === 'anyone'
            ? 'let in'
            : who === 'nobody'
              ? 'nobody'
              : route.right === 'signed-in' || includes(who, route.right)
                ? 'let in'
                : 'refused',
        ]);
      }
      expect(found).toEqual(declared);
      expect(found.length).toBeGreaterThan(130);
    },
  );

  test.each([
    [
      'a foreign page',
      { 'sec-fetch-site': 'cross-site', origin: 'https://elsewhere.example' },
      403,
    ],
    [
      'a form of a foreign page',
      { 'sec-fetch-site': 'cross-site', 'content-type': 'application/x-www-form-urlencoded' },
      403,
    ],
    ['an older browser on a foreign page', { origin: 'https://elsewhere.example' }, 403],
    ['a name that was made to lead here', { host: 'rebound.example' }, 421],
  ])('do nothing for %s, whoever is signed in', async (_, headers, code) => {
    for (const [name, route] of walked.filter(([, r]) => !r.strangers))
      expect([
        name,
        await status(route, { cookie: people.administrator.cookie, ...headers }),
      ]).toEqual([name, code]);
  });

  test('answer whatever stands in a path, a query or a body, and never with a fault of ours', async () => {
    const odd = fc.oneof(
      fc.constantFrom(
        '%',
        '%E0%A4%A',
        '%00',
        '..',
        '%2e%2e%2f',
        '1.5',
        '-1',
        '0',
        '99999999999',
        '2147483648',
        '1e9',
        'NaN',
        'null',
        "'",
        '%F0%9F%98%80',
        ' ',
        'x'.repeat(3000),
      ),
      fc.string({ maxLength: 12, unit: 'grapheme' }).map((s) => encodeURIComponent(s)),
      // lists, jobs and runs of that number do not exist
      fc.constantFrom('999999', '2147483647'),
    );
    const queries = [
      'id',
      'name',
      'kind',
      'from',
      'to',
      'list',
      'column',
      'stamp',
      'with',
      'as',
      'q',
      'sort',
      'record',
      'after',
      'format',
      'mm',
      'dpi',
      'key',
      'at',
      'offset',
      'limit',
      'reveal',
    ];
    const content = fc.oneof(
      fc.json({ maxDepth: 3 }),
      fc.constantFrom(
        '{',
        '{}',
        '[]',
        'null',
        '{"id":1e308}',
        '{"edits":[{"record":99999999999,"column":"c1","value":"\\u0000"}]}',
        '{"name":"\\ud800"}',
      ),
    );
    let asker = people.administrator.cookie;
    for (const [, route] of walked) {
      const numbered = route.path.includes('{');
      await fc.assert(
        fc.asyncProperty(
          odd,
          fc.dictionary(fc.constantFrom(...queries), odd, { maxKeys: 3 }),
          content,
          async (value, query, json) => {
            const path = route.path.replace(/\{\w+\}/g, () => value.replaceAll(' ', '%20'));
            const search = new URLSearchParams(query).toString();
            const url = `http://localhost${path}${search && `?${search}`}`;
            const given = await answer(
              new Request(url, {
                method: route.method,
                headers: { host: 'localhost', cookie: asker, 'content-type': 'application/json' },
                body: route.method === 'GET' ? undefined : json,
              }),
            );
            await given.body?.cancel().catch(() => undefined);
            expect([url, json, given.status < 500 ? 'fine' : given.status]).toEqual([
              url,
              json,
              'fine',
            ]);
            // one of them may have ended the session
            if (given.status === 401)
              asker = await sessionOf(t.db, people.administrator.id).catch(() => asker);
          },
        ),
        { numRuns: route.method === 'GET' || numbered ? 12 : 6, seed: 20 },
      );
    }
  });

  test('that ask and change nothing are the only ones for lookers that are no GET', () => {
    const theirs = allRoutes
      .filter(([, r]) => r.method !== 'GET' && !r.asks && ['viewer', 'scanner'].includes(r.right))
      .map(([name]) => name);
    // a scanner writes on the tape, and nowhere else; a copy is theirs, and its original stays as
    // it is
    const tapes = allRoutes.filter(([, r]) => r.tape).map(([name]) => name);
    expect(theirs.filter((name) => !tapes.includes(name))).toEqual(['copyJob']);
    expect(tapes).toEqual(['scanCodes', 'takeBackScan', 'scanOnRound']);
  });

  test('stand in docs/rights.md as they are declared', () => {
    expect(readFileSync('docs/rights.md', 'utf8')).toBe(rightsPage());
  });

  test('are asked by a browser at the paths that the contract declares', async () => {
    expect(readFileSync('src/contract/paths.ts', 'utf8')).toBe(await pathsFile());
  });
});

describe('a session', () => {
  const me = (cookie: string) => status(contract.viewMe, { cookie });
  test('is good until it is ended, runs out, or its person is one of us no more', async () => {
    const one = await signedIn(t.db, 'viewer');
    expect(await me(one.cookie)).toBe(200);
    await sql`update sessions set expires_at = now() - interval '1 second' where person_id = ${one.id}`.execute(
      t.db,
    );
    expect(await me(one.cookie)).toBe(401);
    const again = await sessionOf(t.db, one.id);
    expect(await me(again)).toBe(200);
    await t.db.updateTable('people').set({ ended: true }).where('id', '=', one.id).execute();
    expect(await me(again)).toBe(401);
  });
  test('is not had by making one up, by its token alone, or by one signed with another key', async () => {
    const { id } = await signedIn(t.db, 'administrator');
    const { token } = await t.db
      .selectFrom('sessions')
      .select('token')
      .where('person_id', '=', id)
      .executeTakeFirstOrThrow();
    for (const value of [token, `${token}.`, `${token}.${'A'.repeat(43)}=`, 'x.y', ''])
      expect(await me(`hand-stamp.session_token=${encodeURIComponent(value)}`)).toBe(401);
  });
  test('that somebody brings along is not the one they sign in to', async () => {
    const one = await signedIn(t.db, 'viewer');
    const fixed = one.cookie;
    const answer = await asks(
      contract.signIn,
      { cookie: fixed },
      { body: { email: one.email, password } },
    );
    const given = answer.headers
      .getSetCookie()
      .find((c) => c.startsWith('hand-stamp.session_token='))!;
    expect(given.split(';')[0]).not.toBe(fixed);
    expect(given).toMatch(/HttpOnly/i);
    expect(given).toMatch(/SameSite=Lax/i);
  });
  test('ends for others when the password is changed', async () => {
    const one = await signedIn(t.db, 'viewer');
    const elsewhere = await sessionOf(t.db, one.id);
    const body = { now: password, next: 'quite another phrase here' };
    expect(await status(contract.changePassword, { cookie: one.cookie }, { body })).toBe(200);
    expect(await me(elsewhere)).toBe(401);
  });
  test('that is used lasts longer, and says so to the browser once a day', async () => {
    const one = await signedIn(t.db, 'viewer');
    const ends = async () =>
      (
        await t.db
          .selectFrom('sessions')
          .select('expires_at')
          .where('person_id', '=', one.id)
          .executeTakeFirstOrThrow()
      ).expires_at.getTime();
    const cookies = async () =>
      (await asks(contract.viewMe, { cookie: one.cookie })).headers
        .getSetCookie()
        .filter((c) => c.startsWith('hand-stamp.session_token='));
    expect(await cookies()).toEqual([]);
    const first = await ends();
    await sql`update sessions set expires_at = expires_at - interval '3 days' where person_id = ${one.id}`.execute(
      t.db,
    );
    const [renewed] = await cookies();
    expect(renewed!.split(';')[0]).toBe(one.cookie);
    expect(renewed).toMatch(/Max-Age=1209600/);
    expect(await ends()).toBeGreaterThanOrEqual(first);
    expect(await cookies()).toEqual([]);
  });
  test('has the right of now, not that of when it began', async () => {
    const one = await signedIn(t.db, 'administrator');
    expect(await status(contract.listPeople, { cookie: one.cookie })).toBe(200);
    await t.db.updateTable('people').set({ right: 'viewer' }).where('id', '=', one.id).execute();
    expect(await status(contract.listPeople, { cookie: one.cookie })).toBe(403);
  });
});

describe('who is here is called to nobody', () => {
  test('by words, and tries are counted alike for those who are not', async () => {
    const one = await signedIn(t.db, 'viewer');
    const tries = async (email: string) => {
      const codes: string[] = [];
      for (let i = 0; i < 12; i++) {
        const answer = await asks(contract.signIn, {}, { body: { email, password: `wrong ${i}` } });
        codes.push(String(answer.status));
      }
      return codes.join(' ');
    };
    const known = await tries(one.email);
    expect(known).toBe('401 401 401 401 401 401 401 401 401 401 429 429');
    expect(await tries('nobody@marrambay.example')).toBe(known);
    // and the right password opens nothing then either
    expect(await status(contract.signIn, {}, { body: { email: one.email, password } })).toBe(429);
    expect(await status(contract.forgotten, {}, { body: { email: one.email } })).toBe(200);
    expect(await status(contract.forgotten, {}, { body: { email: 'no@marrambay.example' } })).toBe(
      200,
    );
  });
  test('by many tries at once no more than by the same one after the other', async () => {
    const one = await signedIn(t.db, 'viewer');
    const codes = await Promise.all(
      Array.from({ length: 24 }, (_, i) =>
        status(contract.signIn, {}, { body: { email: one.email, password: `wrong ${i}` } }),
      ),
    );
    expect(codes.filter((code) => code === 401)).toHaveLength(10);
    expect(codes.filter((code) => code === 429)).toHaveLength(14);
  });
});

describe('what is shared', () => {
  const rowsOf = (who: Signed, id: number) =>
    status(contract.jobRows, { cookie: who.cookie }, { id: String(id) });
  const rename = async (who: Signed, id: number, name: string) => {
    const { version } = await t.db
      .selectFrom('jobs')
      .select('version')
      .where('id', '=', id)
      .executeTakeFirstOrThrow();
    return status(
      contract.changeJob,
      { cookie: who.cookie },
      { id: String(id), body: { version, name } },
    );
  };
  test('is seen or changed by those it is shared with, and nothing else is', async () => {
    const guest = await signedIn(t.db, 'scanner');
    const one = await job(['No'], ['key'], [['P-1']]);
    const other = await job(['No'], ['key'], [['P-1']]);
    expect(await rowsOf(guest, one.id)).toBe(403);
    await shareWith(t.db, { job: one.id }, { person: guest.id, right: 'viewer' }, 'test', {
      right: 'administrator',
    });
    expect(await rowsOf(guest, one.id)).toBe(200);
    expect(await rowsOf(guest, other.id)).toBe(403);
    // whether something exists is not revealed
    expect(await rowsOf(guest, 1_999_999_999)).toBe(403);
    expect(await rename(guest, one.id, 'Spoilt')).toBe(403);
    await shareWith(t.db, { job: one.id }, { person: guest.id, right: 'editor' }, 'test', {
      right: 'administrator',
    });
    expect(await rename(guest, one.id, 'Better')).toBe(200);
    expect(await rename(guest, other.id, 'Spoilt')).toBe(403);
    // they see the list it is made from, and may not change it
    const cells = { cells: [] };
    expect(
      await status(contract.listRevisions, { cookie: guest.cookie }, { id: String(one.list) }),
    ).toBe(200);
    expect(
      await status(
        contract.editCells,
        { cookie: guest.cookie },
        { id: String(one.list), body: cells },
      ),
    ).toBe(403);
    // nor is it undone by them, nor thrown away with the job
    const [record] = await t.db
      .selectFrom('records')
      .select('id')
      .where('list_id', '=', one.list)
      .execute();
    await editCells(
      t.db,
      one.list,
      [{ record: record!.id, column: 'c1', value: 'P-2', from: 'P-1' }],
      'test',
    );
    const undo = { id: String(one.id), body: { direction: 'undo' } };
    expect(await status(contract.stepJob, { cookie: guest.cookie }, undo)).toBe(403);
    expect(await status(contract.removeJob, { cookie: guest.cookie }, { id: String(one.id) })).toBe(
      403,
    );
    await shareWith(t.db, { list: one.list }, { person: guest.id, right: 'editor' }, 'test', {
      right: 'administrator',
    });
    expect(await status(contract.stepJob, { cookie: guest.cookie }, undo)).toBe(200);
    expect(
      await status(
        contract.editCells,
        { cookie: guest.cookie },
        { id: String(one.list), body: cells },
      ),
    ).not.toBe(403);
    await shareWith(t.db, { list: one.list }, { person: guest.id, right: null }, 'test', {
      right: 'administrator',
    });
    await shareWith(t.db, { job: one.id }, { person: guest.id, right: null }, 'test', {
      right: 'administrator',
    });
    expect(await rowsOf(guest, one.id)).toBe(403);
  });
});

describe('a copy of a job', () => {
  test('is whole for those who may see all of it, and leaves secrets and keys behind for those who look', async () => {
    const made = await job(
      ['No', 'Name', 'Token'],
      ['key', 'name', 'text'],
      [
        ['P-1', 'Wren', 'tok-1'],
        ['P-2', 'Tam', 'tok-2'],
      ],
    );
    const { version, document } = await viewJob(t.db, made.id);
    const stamps: Stamp[] = [
      {
        ...document.stamps[0]!,
        does: 'genuine',
        proofKey: 'new',
        fields: { signed: [{ kind: 'column', column: 'c1' }] },
      },
      {
        ...document.stamps[0]!,
        id: 'net',
        name: 'Net',
        does: 'wifi',
        fields: {
          ssid: [{ kind: 'text', text: 'Dune' }],
          password: [{ kind: 'text', text: 'shell-grass-9' }],
        },
      },
    ];
    await changeJob(t.db, made.id, { version, document: { ...document, stamps } }, 'test');
    const before = await viewJob(t.db, made.id);
    const copied = async (who: Signed) => {
      const answer = await asks(
        contract.copyJob,
        { cookie: who.cookie },
        { id: String(made.id) },
        true,
      );
      expect(answer.status).toBe(200);
      const { id } = (await answer.json()) as { id: number };
      const view = await viewJob(t.db, id);
      const rows = await t.db
        .selectFrom('records')
        .select('values')
        .where('list_id', '=', view.list.id)
        .orderBy('position')
        .execute();
      return { id, view, rows: rows.map((r) => r.values) };
    };
    const looker = await signedIn(t.db, 'viewer');
    const theirs = await copied(looker);
    expect(theirs.rows.map((v) => [v.c1, v.c2, v.c3])).toEqual([
      ['P-1', 'Wren', ''],
      ['P-2', 'Tam', ''],
    ]);
    expect(theirs.view.document.stamps[1]!.fields!.password).toEqual([]);
    expect(theirs.view.document.stamps[0]!.proofKey).toMatch(/^sealed:/);
    expect(theirs.view.document.stamps[0]!.proofKey).not.toBe(before.document.stamps[0]!.proofKey);
    // they may change the copy, and not the original
    expect(
      await status(
        contract.changeJob,
        { cookie: looker.cookie },
        { id: String(theirs.id), body: { version: 1, name: 'Mine' } },
      ),
    ).toBe(200);
    expect(
      await status(
        contract.changeJob,
        { cookie: looker.cookie },
        { id: String(made.id), body: { version: before.version, name: 'Mine too' } },
      ),
    ).toBe(403);
    const whole = await copied(people.editor);
    expect(whole.rows.map((v) => v.c3)).toEqual(['tok-1', 'tok-2']);
    // and what they see of the original reveals no key with which they could make valid proofs
    const seen = await (
      await asks(contract.viewJob, { cookie: looker.cookie }, { id: String(made.id) }, true)
    ).text();
    expect(seen).not.toContain(before.document.stamps[0]!.proofKey);
    expect(seen).not.toContain('shell-grass-9');
    expect(await viewJob(t.db, made.id)).toEqual(before);
  });
});

describe('the journal', () => {
  test('tells what was done, by whom, and how it came out; and is not changed', async () => {
    const one = await signedIn(t.db, 'editor');
    const made = await job(['No'], ['key'], [['P-1']]);
    const { version } = await t.db
      .selectFrom('jobs')
      .select('version')
      .where('id', '=', made.id)
      .executeTakeFirstOrThrow();
    const params = { id: String(made.id) };
    await asks(
      contract.changeJob,
      { cookie: one.cookie },
      { ...params, body: { version, name: 'Told' } },
    );
    await asks(
      contract.changeJob,
      { cookie: one.cookie },
      { ...params, body: { version, name: 'Too late' } },
    );
    const lines = await t.db
      .selectFrom('journal')
      .selectAll()
      .where('person_id', '=', one.id)
      .orderBy('id')
      .execute();
    expect(lines.map((l) => [l.who, l.job_id, l.list_id, l.outcome?.split(':')[0]])).toEqual([
      [one.name, made.id, made.list, 'done'],
      [one.name, made.id, made.list, 'refused'],
    ]);
    for (const change of [
      sql`update journal set who = 'somebody else'`,
      sql`update journal set outcome = 'done' where outcome is not null`,
      sql`delete from journal`,
      sql`truncate journal`,
    ])
      await expect(change.execute(t.db)).rejects.toThrow(/the journal is not changed/);
  });
});

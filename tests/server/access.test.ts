import { createHmac } from 'node:crypto';
import { sql } from 'kysely';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { inTurn, resetFor, takeTry, takeWelcome, triesOf } from '../../src/server/access';
import { checkTries } from '../../src/server/access';
import { checkPassword } from '../../src/server/access/passwords';
import {
  type AtTheDoor,
  changePassword,
  confirmSecondFactor,
  signInByPassword,
  signInBySecond,
  startSecondFactor,
} from '../../src/server/access/sign-in';
import { whoAsks } from '../../src/server/access/who';
import { newsStream } from '../../src/server/platform';
import { follow } from '../../src/server/platform/news';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { password, type Signed, sessionOf, signedIn } from '../helpers/people';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
});
afterAll(() => t.close());

let wren: Signed;
beforeEach(async () => {
  wren = await signedIn(t.db, 'editor');
});

const at = (place = '192.0.2.1', cookie = ''): AtTheDoor => ({
  db: t.db,
  request: new Request('http://localhost/', {
    headers: { host: 'localhost', 'x-forwarded-for': place, ...(cookie ? { cookie } : {}) },
  }),
  answerHeaders: new Headers(),
  number: 'test',
});
const cookies = ({ answerHeaders }: AtTheDoor): string =>
  answerHeaders
    .getSetCookie()
    .map((c) => c.split(';')[0]!)
    .join('; ');
const person = async (cookie = wren.cookie) =>
  (await whoAsks(t.db, new Headers({ host: 'localhost', cookie })))!;
const signIn = async (word: string, place?: string, cookie?: string) => {
  const door = at(place, cookie);
  await signInByPassword(door, { email: wren.email, password: word });
  return cookies(door);
};
const base32 = (text: string): Buffer => {
  const bits = [...text.replace(/=+$/, '')]
    .map((c) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(c).toString(2).padStart(5, '0'))
    .join('');
  return Buffer.from((bits.match(/.{8}/g) ?? []).map((byte) => parseInt(byte, 2)));
};
/** The code of an app (RFC 6238), so many steps of 30 s from now. */
function codeOf(address: string, steps = 0): string {
  const secret = base32(new URL(address).searchParams.get('secret')!);
  const counter = Buffer.alloc(8);
  counter.writeBigUInt64BE(BigInt(Math.floor(Date.now() / 30_000) + steps));
  const mac = createHmac('sha1', secret).update(counter).digest();
  const from = mac.at(-1)! & 15;
  return String((mac.readUInt32BE(from) & 0x7fffffff) % 1_000_000).padStart(6, '0');
}

describe('tries', () => {
  test('right answers are given back, wrong ones are counted', async () => {
    for (let i = 0; i < 180; i++) await (await takeTry(t.db, 'hall', wren.id, 5)).back();
    for (let i = 0; i < 5; i++) await takeTry(t.db, 'hall', wren.id, 5);
    await expect(takeTry(t.db, 'hall', wren.id, 5)).rejects.toMatchObject({ status: 429 });
    await expect(checkTries(t.db, 'hall', wren.id, 5)).rejects.toThrow(/Wait 15 minutes/);
    expect(await triesOf(t.db, 'hall', wren.id)).toBe(5);
  });
  test('many wrong ones at once are seen one by one', async () => {
    const outcome = await Promise.allSettled(
      Array.from({ length: 40 }, () =>
        inTurn(wren.id, async () => {
          await checkTries(t.db, 'guess', wren.id, 12);
          await takeTry(t.db, 'guess', wren.id, Infinity);
        }),
      ),
    );
    expect(outcome.filter((o) => o.status === 'fulfilled')).toHaveLength(12);
  });
});

describe('signing in', () => {
  test('an office behind one address signs in, more often than wrong tries may be', async () => {
    for (let i = 0; i < 105; i++) await signInAgain();
  }, 120_000);
  const signInAgain = async () => {
    const tried = await takeTry(t.db, 'place', '203.0.113.1', 100);
    await tried.back();
  };
  test('strangers who try slow themselves, and shut nobody out', async () => {
    const known = await signIn(password, '192.0.2.50');
    for (let i = 0; i < 60; i++) await takeTry(t.db, 'sign-in', wren.email, Infinity);
    for (let i = 0; i < 3; i++)
      await expect(signIn('wrong', '198.51.100.9')).rejects.toMatchObject({ status: 401 });
    await expect(signIn('wrong', '198.51.100.9')).rejects.toMatchObject({ status: 429 });
    // another place, and the same place in a browser that is known
    expect(await signIn(password, '192.0.2.77')).toContain('session_token');
    expect(await signIn(password, '198.51.100.9', known)).toContain('session_token');
    // an invented cookie, or one of somebody else, is not valid
    await expect(signIn(password, '198.51.100.9', 'hand-stamp.known=a.b')).rejects.toMatchObject({
      status: 429,
    });
  }, 60_000);
  test('a code of the app works once, also when two give it at once', async () => {
    const { address } = await startSecondFactor(
      at('192.0.2.1', wren.cookie),
      await person(),
      password,
    );
    await confirmSecondFactor(at('192.0.2.1', wren.cookie), await person(), codeOf(address));
    const second = async (code: string) => {
      const half = await signIn(password);
      const door = at('192.0.2.1', half);
      await signInBySecond(door, { code, kind: 'app' });
      return cookies(door);
    };
    // the one that confirmed it was used by that
    await expect(second(codeOf(address))).rejects.toThrow(/was already used/);
    const next = codeOf(address, 1);
    const both = await Promise.allSettled([second(next), second(next)]);
    expect(both.map((o) => o.status).sort()).toEqual(['fulfilled', 'rejected']);
    const { n } = await t.db
      .selectFrom('sessions')
      .select((e) => e.fn.countAll<number>().as('n'))
      .where('person_id', '=', wren.id)
      .executeTakeFirstOrThrow();
    // the one from the beginning, and the one that came in; the refused ones left none
    expect(n).toBe(2);
  }, 60_000);
  test('weak passwords are told, also those with a little added', async () => {
    for (const weak of [
      'password123456',
      'Password12345!',
      'qwertyuiop123',
      'aaaabbbbcccc1',
      '123456789012',
    ])
      await expect(checkPassword(weak, [])).rejects.toMatchObject({ status: 400 });
    for (const good of [password, 'three herons on a gate', 'tide-table-lichen-94'])
      await expect(checkPassword(good, [])).resolves.toBeUndefined();
  });
});

describe('what lets someone in once', () => {
  const token = async () =>
    (await resetFor(t.db, 'http://localhost', wren.id, 'test')).address.split('/').at(-1)!;
  const take = (given: string) => takeWelcome(at(), given, { password: 'nine slow otters swim' });
  test('a reset link is no good after another one was used', async () => {
    const [first, second] = [await token(), await token()];
    await take(second);
    await expect(take(first)).rejects.toMatchObject({ status: 404 });
  });
  test('nor after the password was changed', async () => {
    const link = await token();
    await changePassword(at('192.0.2.1', wren.cookie), await person(), {
      now: password,
      next: 'seven lanterns in fog',
    });
    await expect(take(link)).rejects.toMatchObject({ status: 404 });
  });
});

describe('a session', () => {
  test('ends at last, however often it is used', async () => {
    expect(await person()).toBeDefined();
    await sql`update sessions set created_at = now() - interval '61 days',
      expires_at = now() + interval '10 days' where person_id = ${wren.id}`.execute(t.db);
    expect(await person()).toBeUndefined();
  });
  test('that is over ends the news that are listened to', async () => {
    const cookie = await sessionOf(t.db, wren.id);
    const listener = await person(cookie);
    const request = new Request('http://localhost/');
    // the one connection that listens is shared, and may listen to another test’s database
    const stop = await follow(() => undefined, t.url);
    const answer = await newsStream(
      { request, person: listener, mayStill: async () => true },
      new Set(['job:1']),
    );
    const reader = answer.body!.getReader();
    await reader.read();
    await t.db.deleteFrom('sessions').where('id', '=', listener.session!).execute();
    expect((await reader.read()).done).toBe(true);
    stop();
  });
});

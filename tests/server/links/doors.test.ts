import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { z } from 'zod';
import { checkDoor } from '../../../src/server/platform/doors';
import { defineRoute, type Route } from '../../../src/contract';
import { handle, type Asked } from '../../../src/server/access';
import { bytesOf } from '../../../src/server/platform/bodies';
import { fileNameOf } from '../../../src/server/platform/http';
import { Refusal } from '../../../src/server/platform/refusal';
import { keepPicture } from '../../../src/server/platform/pictures';
import { trayEntries, trayFile, trayFolderRows } from '../../../src/server/sources/tray';
import { testDatabase, type TestDatabase } from '../../helpers/database';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
});
afterAll(() => t.close());

const asks = (headers: Record<string, string>, method = 'POST', more: RequestInit = {}) =>
  new Request('http://localhost:3000/api/x', { method, headers, ...more });
const answered = z.strictObject({ got: z.unknown().optional() });
const status = async (
  request: Request,
  {
    work = async (asked) => asked.body,
    ...route
  }: Partial<Pick<Route, 'body'>> & {
    work?: (asked: Asked) => Promise<unknown>;
  } = {},
) => {
  const made = defineRoute({
    method: 'POST',
    path: '/api/x',
    about: '',
    right: 'anyone',
    answer: answered,
    ...route,
  } as Route);
  const handler = handle(made, async (asked) => ({ got: (await work(asked)) ?? null }) as never);
  return (await handler(request, { params: Promise.resolve({}) })).status;
};

describe('who may ask', () => {
  const our = { host: 'localhost:3000' };
  test.each([
    ['our own page', { ...our, 'sec-fetch-site': 'same-origin' }, 'POST'],
    ['a program that is no browser', our, 'POST'],
    ['an address that was typed', { ...our, 'sec-fetch-site': 'none' }, 'GET'],
    ['our own page in an older browser', { ...our, origin: 'http://localhost:3000' }, 'POST'],
    ['by IPv6', { host: '[::1]:3000' }, 'GET'],
  ])('%s may', (_, headers, method) =>
    expect(checkDoor(t.db, asks(headers, method))).resolves.toBeUndefined(),
  );
  test.each([
    ['a foreign page', { ...our, 'sec-fetch-site': 'cross-site' }, 'POST', 403],
    ['a foreign page, only reading', { ...our, 'sec-fetch-site': 'cross-site' }, 'GET', 403],
    [
      'a page of another port of this machine',
      { ...our, 'sec-fetch-site': 'same-site' },
      'POST',
      403,
    ],
    [
      'a foreign page in an older browser',
      { ...our, origin: 'https://elsewhere.example' },
      'POST',
      403,
    ],
    ['another port in an older browser', { ...our, origin: 'http://localhost:3001' }, 'POST', 403],
    ['a page that hides where it is from', { ...our, origin: 'null' }, 'POST', 403],
    [
      'a name made to lead here',
      { host: 'rebound.example:3000', 'sec-fetch-site': 'same-origin' },
      'GET',
      421,
    ],
    ['a name that begins like ours', { host: 'localhost.rebound.example' }, 'GET', 421],
    ['a name that ends like ours', { host: 'notlocalhost' }, 'GET', 421],
  ])('%s may not', async (_, headers, method, is) => {
    let done = false;
    expect(await status(asks(headers, method), { work: async () => (done = true) })).toBe(is);
    expect(done).toBe(false);
  });
  test('further names are configured', async () => {
    process.env.HAND_STAMP_HOSTS = 'stamps.marrambay.example, other.example';
    await checkDoor(t.db, asks({ host: 'Stamps.MarramBay.example' }));
    delete process.env.HAND_STAMP_HOSTS;
    await expect(checkDoor(t.db, asks({ host: 'stamps.marrambay.example' }))).rejects.toThrow(
      Refusal,
    );
  });
});

describe('what comes in', () => {
  const schema = z.record(z.string(), z.unknown());
  const sent = (text: string, type = 'application/json') =>
    status(asks({ host: 'localhost', 'content-type': type }, 'POST', { body: text }), {
      body: schema,
    });
  test('is JSON where JSON is meant, and text that can be kept', async () => {
    expect(await sent('{"a":"b"}')).toBe(200);
    expect(await sent('{"a":"😀"}')).toBe(200);
    expect(await sent('{"a":"b"}', 'text/plain')).toBe(415);
    for (const bad of ['{"a":"x\\u0000y"}', '{"a":["\\ud800"]}', '{"\\udfff":1}', '{', ''])
      expect([bad, await sent(bad)]).toEqual([bad, 400]);
    expect(await status(new Request('http://localhost/api/x?q=a%00b'))).toBe(400);
  });
  test('is counted while it comes, and not taken whole first', async () => {
    let given = 0;
    const endless = new ReadableStream<Uint8Array>({
      pull(controller) {
        given += 65_536;
        controller.enqueue(new Uint8Array(65_536));
      },
    });
    const request = asks({ host: 'localhost' }, 'POST', {
      body: endless,
      duplex: 'half',
    } as RequestInit);
    await expect(bytesOf(request, 1_000_000, () => new Refusal('too much'))).rejects.toThrow(
      'too much',
    );
    expect(given).toBeLessThan(2_000_000);
    const small = asks({ host: 'localhost' }, 'POST', { body: 'twelve bytes' });
    expect((await bytesOf(small, 12, () => new Error('too much'))).toString()).toBe('twelve bytes');
  });
  test('the name of a file is read, cut between characters, or refused in words', () => {
    const named = (name: string) => fileNameOf(asks({ 'x-file-name': name }), 'records');
    expect(named(encodeURIComponent('Größe\0.csv'))).toBe('Größe.csv');
    expect(named(encodeURIComponent('😀'.repeat(300)))).toBe('😀'.repeat(200));
    expect(() => named('%E0%A4%A')).toThrow(
      'The name of the file could not be read. Rename the file and try again.',
    );
    expect(fileNameOf(asks({}), 'records')).toBe('records');
  });
  test('what the database cannot hold or find is the request’s fault, and says so', async () => {
    const said = async (work: (a: Asked) => Promise<unknown>) =>
      status(asks({ host: 'localhost' }), { work: async (a) => (await work(a), null) });
    expect(
      await said((a) => a.db.selectFrom('lists').select('id').where('id', '=', 3e10).execute()),
    ).toBe(400);
    expect(
      await said((a) => a.db.insertInto('settings').values({ name: 'a\0b', value: '' }).execute()),
    ).toBe(400);
    const twice = (a: Asked) =>
      a.db.insertInto('settings').values({ name: 'twice', value: '' }).execute();
    expect(await said(twice)).toBe(200);
    expect(await said(twice)).toBe(409);
    expect(await said(() => Promise.reject(new Error('ours')))).toBe(500);
  });
});

test('a picture is told by how it begins, in one pass; what only looks like one is refused', async () => {
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" width="8" height="8"><rect width="8" height="8"/></svg>';
  for (const before of [
    '',
    ' \n',
    '<?xml version="1.0"?>\n',
    '<!-- one --><!-- > two -->\n',
    '<?xml version="1.0"?><!-- a --><!DOCTYPE svg>',
  ])
    expect(await keepPicture('leaf.svg', Buffer.from(before + svg))).toMatchObject({
      name: 'leaf.svg',
    });
  // thirty comments and no picture: a pattern that goes back over them took 25 s
  for (const text of [
    '<!---->'.repeat(30),
    '<!---->'.repeat(500),
    '<!--',
    '<?xml',
    '<!-->',
    '<html>',
    '',
  ])
    await expect(keepPicture('odd.svg', Buffer.from(text))).rejects.toThrow(
      'is not a PNG, JPEG or SVG picture',
    );
});

describe('the In-tray', () => {
  const tray = mkdtempSync(join(tmpdir(), 'tray-'));
  const before = process.env.HAND_STAMP_TRAY;
  beforeAll(() => {
    process.env.HAND_STAMP_TRAY = tray;
    writeFileSync(join(tray, 'plain.csv'), 'No\n1\n');
    symlinkSync('/etc/passwd', join(tray, 'link.csv'));
    symlinkSync('/etc', join(tray, 'elsewhere'));
    execFileSync('mkfifo', [join(tray, 'pipe.csv')]);
    mkdirSync(join(tray, 'photos'));
    writeFileSync(join(tray, 'photos', 'a.jpg'), 'a');
    symlinkSync('/etc/passwd', join(tray, 'photos', 'b.jpg'));
    symlinkSync('/etc', join(tray, 'photos', 'deep'));
  });
  afterAll(() => {
    rmSync(tray, { recursive: true });
    if (before === undefined) delete process.env.HAND_STAMP_TRAY;
    else process.env.HAND_STAMP_TRAY = before;
  });
  test('takes files, follows no links and waits on no pipe', async () => {
    expect((await trayEntries()).map((e) => e.name)).toEqual(['photos', 'plain.csv']);
    expect((await trayFile('plain.csv')).toString()).toBe('No\n1\n');
    for (const name of ['link.csv', 'pipe.csv', 'photos'])
      await expect(trayFile(name)).rejects.toThrow('is not a file but a link');
    await expect(trayFile('../../plain.csv')).rejects.toThrow('is not in the In-tray');
    await expect(trayFile('gone.csv')).rejects.toThrow('no longer in the In-tray');
    await expect(trayFolderRows('elsewhere', '')).rejects.toThrow('a link to one');
    const text = JSON.stringify(await trayFolderRows('photos', ''));
    expect(text).toContain('a.jpg');
    expect(text).not.toContain('b.jpg');
    expect(text).not.toContain('deep');
  });
});

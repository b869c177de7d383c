import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ScanGiven } from '../../../src/contract';
import { answerApart, packIndex } from '../../../src/core/checkpoint/offline';
import type { Rule } from '../../../src/core/checkpoint/rule';
import { contentOf } from '../../../src/core/payload/stamp';
import { deviceAsking, deviceCookie } from '../../../src/server/access/devices';
import {
  addDevice,
  changeCheckpoint,
  findRecords,
  joinDevice,
  listCheckpoints,
  logBook,
  logCsv,
  makeCheckpoint,
  packFor,
  removeCheckpoint,
  type Scanner,
  shutDevice,
  stateFor,
  takeBack,
  takeScans,
  viewBoard,
  viewCheckpoint,
} from '../../../src/server/checkpoints';
import { rejudgeList } from '../../../src/server/judging';
import {
  changeColumn,
  editCells,
  keepWorkedColumn,
  removeList,
  removeRecords,
} from '../../../src/server/lists';
import { changeLinks } from '../../../src/server/links';
import { changeJob, viewJob } from '../../../src/server/jobs';
import { takeAwayTheOld } from '../../../src/server/platform';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job, run } = runsIn(() => t);

const me: Scanner = { device: null, who: 'Ines' };
const names = ['Rune', 'Keiko', 'Tam', 'Joss'];

/** A list whose codes say number and shift, with a checkpoint for it. */
async function gate(rule: Partial<Rule> = {}, take: Partial<Rule['takes'][number]> = {}) {
  const made = await job(
    ['No', 'Name', 'Shift', 'Token'],
    ['key', 'name', 'text', 'text'],
    names.map((name, i) => [`B-${i + 1}`, name, i < 2 ? 'Sat' : 'Sun', `hush${i}`]),
  );
  const { version, document } = await viewJob(t.db, made.id);
  await changeJob(
    t.db,
    made.id,
    {
      version,
      document: {
        ...document,
        stamps: [
          {
            ...document.stamps[0]!,
            parts: [
              { kind: 'column', column: 'c1' },
              { kind: 'text', text: '/' },
              { kind: 'column', column: 'c3' },
            ],
          },
        ],
      },
    },
    'test',
  );
  await rejudgeList(t.db, made.list);
  const id = await makeCheckpoint(t.db, { name: 'North gate', list: made.list }, 'test');
  const view = await viewCheckpoint(t.db, id);
  await changeCheckpoint(t.db, id, {
    version: 1,
    rule: { ...view.rule, ...rule, takes: [{ ...view.rule.takes[0]!, ...take }] },
  });
  const records = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', made.list)
    .orderBy('position')
    .execute();
  return { ...made, checkpoint: id, records: records.map((r) => r.id) };
}
type Given = Partial<ScanGiven> & { text?: string };
const scanOf = (given: Given): ScanGiven =>
  ({ key: randomUUID(), how: 'reader', ...given }) as ScanGiven;
const scan = async (checkpoint: number, given: Given, who = me, now = Date.now()) =>
  (await takeScans(t.db, checkpoint, who, [scanOf(given) as never], { now, waiting: 0 }))[0]!;
const code = (n: number, shift = n < 3 ? 'Sat' : 'Sun') => `B-${n}/${shift}`;
const linesOf = async (checkpoint: number) =>
  (await viewBoard(t.db, checkpoint, { search: '', missing: 12, lines: 100 })).tape;

async function join(checkpoint: number, name: string) {
  const { id, address } = await addDevice(t.db, checkpoint, { name, hours: 1 }, 'test');
  const token = address.split('#')[1]!;
  const { cookie } = await joinDevice(t.db, token);
  return {
    id,
    token,
    headers: new Headers({ cookie: cookie.split(';')[0]! }),
    who: { device: id, who: name },
  };
}

describe('a scan', () => {
  test('comes in once; was here the second time; is known by its record', async () => {
    const { checkpoint, records } = await gate();
    expect(await scan(checkpoint, { text: code(1) })).toMatchObject({
      answer: 'comes-in',
      title: 'Rune',
      recordKey: 'B-1',
    });
    expect(await scan(checkpoint, { text: `]Q1${code(1)}\r` })).toMatchObject({
      answer: 'was-here',
    });
    expect(await scan(checkpoint, { text: 'B-9/Sat' })).toMatchObject({ answer: 'unknown' });
    const tape = await linesOf(checkpoint);
    expect(tape.map((line) => line.answer)).toEqual(['unknown', 'was-here', 'comes-in']);
    const board = await viewBoard(t.db, checkpoint, { search: 'kei', missing: 12, lines: 2 });
    expect(board).toMatchObject({ in: 1, of: 4, lines: 3 });
    expect(board.missing).toEqual([{ record: records[1], title: 'Keiko', key: 'B-2' }]);
  });

  test('at ten gates at the same moment comes in once, and sent ten times is one line', async () => {
    const { checkpoint } = await gate();
    const at = await Promise.all(
      Array.from({ length: 10 }, () => scan(checkpoint, { text: code(1) })),
    );
    expect(at.map((a) => a.answer).sort()).toEqual([
      'comes-in',
      ...Array<string>(9).fill('was-here'),
    ]);
    const key = randomUUID();
    const same = await Promise.all(
      Array.from({ length: 10 }, () => scan(checkpoint, { key, text: code(2) })),
    );
    expect(new Set(same.map((a) => a.answer))).toEqual(new Set(['comes-in']));
    const nobody = randomUUID();
    await Promise.all(
      Array.from({ length: 10 }, () => scan(checkpoint, { key: nobody, text: 'nobody' })),
    );
    expect(await linesOf(checkpoint)).toHaveLength(12);
    const other = await gate();
    await expect(scan(other.checkpoint, { key, text: code(2) })).rejects.toThrow(
      'another checkpoint',
    );
  });

  test('of a reader with its capitals reversed is as the code, and says so', async () => {
    const { checkpoint } = await gate();
    expect(await scan(checkpoint, { text: 'b-1/sAT' })).toMatchObject({
      answer: 'comes-in',
      title: 'Rune',
      differs: expect.stringContaining('Caps Lock'),
    });
    expect(await scan(checkpoint, { text: 'b-9/sAT' })).toMatchObject({ answer: 'unknown' });
  });

  test('in a session of a column is for those of it, unless it is open to all', async () => {
    const session = { kind: 'column' as const, column: 'c3', now: 'Sat' };
    const own = await gate({ session });
    expect((await scan(own.checkpoint, { text: code(1) })).answer).toBe('comes-in');
    expect(await scan(own.checkpoint, { text: code(3) })).toMatchObject({
      answer: 'not-now',
      why: 'its Shift is Sun',
    });
    const open = await gate({ session: { ...session, all: true } });
    expect((await scan(open.checkpoint, { text: code(3) })).answer).toBe('comes-in');
  });

  test('is found by hand among many more that look alike', async () => {
    const made = await job(
      ['No', 'Name', 'House'],
      ['key', 'name', 'text'],
      [
        ...Array.from({ length: 400 }, (_, i) => [`G-${i}`, `Guest ${i}`, 'Dune House']),
        ['G-999', 'Dune Walker', 'Salt Meadow'],
      ],
    );
    await rejudgeList(t.db, made.list);
    const id = await makeCheckpoint(t.db, { name: 'Hall', list: made.list }, 'test');
    expect(await findRecords(t.db, id, 'Dune')).toMatchObject([
      { title: 'Dune Walker', key: 'G-999' },
    ]);
  });

  test('of two checkpoints that count together is one, and by themselves two', async () => {
    const a = await gate();
    const b = await makeCheckpoint(t.db, { name: 'South gate', list: a.list }, 'test');
    expect((await scan(a.checkpoint, { text: code(1) })).answer).toBe('comes-in');
    expect((await scan(b, { text: code(1) })).answer).toBe('comes-in');
    const { version } = await viewCheckpoint(t.db, a.checkpoint);
    const view = await changeCheckpoint(t.db, a.checkpoint, { version, together: [b] });
    expect(view.others.find((o) => o.id === b)).toMatchObject({ together: true });
    expect((await scan(a.checkpoint, { text: code(2) })).answer).toBe('comes-in');
    expect(await scan(b, { text: code(2) })).toMatchObject({
      answer: 'was-here',
      why: expect.stringContaining('North gate'),
    });
    await changeCheckpoint(t.db, a.checkpoint, { version: view.version, together: [] });
    expect((await scan(b, { text: code(2) })).answer).toBe('comes-in');
  });

  test('of a code that was changed is altered, and of one that we printed so ourselves passes with what differs', async () => {
    const { id, list, checkpoint, records } = await gate();
    expect(await scan(checkpoint, { text: 'B-1/Sun' })).toMatchObject({
      answer: 'altered',
      title: 'Rune',
      why: 'Shift: the code says Sun, the list Sat',
    });
    await run(id, { name: 'Badges', which: 'ready', ticked: [] });
    await editCells(t.db, list, [{ record: records[0]!, column: 'c3', value: 'Sun' }], 'test');
    await rejudgeList(t.db, list);
    expect(await scan(checkpoint, { text: code(1) })).toMatchObject({
      answer: 'comes-in',
      differs: 'Shift: the code says Sat, the list Sun',
    });
    await removeRecords(t.db, list, [records[1]!], 'test');
    expect(await scan(checkpoint, { text: code(2) })).toMatchObject({
      answer: 'withdrawn',
      why: 'Keiko was removed from the list',
    });
  });

  test('tells nothing secret of a code that was changed', async () => {
    const { id, list, checkpoint } = await gate();
    await changeColumn(t.db, list, { does: 'secret', id: 'c4', secret: true }, 'test');
    const { version, document } = await viewJob(t.db, id);
    const parts = [
      ...document.stamps[0]!.parts,
      { kind: 'text' as const, text: '/' },
      { kind: 'column' as const, column: 'c4' },
    ];
    await changeJob(
      t.db,
      id,
      { version, document: { ...document, stamps: [{ ...document.stamps[0]!, parts }] } },
      'test',
    );
    await rejudgeList(t.db, list);
    expect((await scan(checkpoint, { text: 'B-1/Sat/hush0' })).answer).toBe('comes-in');
    const wrong = await scan(checkpoint, { text: 'B-2/Sat/guess' });
    expect(wrong).toMatchObject({
      answer: 'altered',
      why: 'the secret part of the code is wrong',
    });
    expect(JSON.stringify([wrong, await linesOf(checkpoint)])).not.toContain('hush');
    expect(JSON.stringify(await packFor(t.db, checkpoint))).not.toContain('hush');
    const { version: v, rule } = await viewCheckpoint(t.db, checkpoint);
    await expect(
      changeCheckpoint(t.db, checkpoint, {
        version: v,
        rule: { ...rule, takes: [{ ...rule.takes[0]!, shows: ['c4'] }] },
      }),
    ).rejects.toThrow('Token is secret');
    expect(await findRecords(t.db, checkpoint, 'hush1')).toEqual([]);
  });

  test('with a proof that is right is genuine, also after a change, and with a wrong one altered', async () => {
    const { id, list, checkpoint, records } = await gate();
    const { version, document } = await viewJob(t.db, id);
    await changeJob(
      t.db,
      id,
      {
        version,
        document: {
          ...document,
          stamps: [
            {
              ...document.stamps[0]!,
              does: 'genuine',
              proofKey: 'new',
              parts: [
                { kind: 'text', text: 'https://marrambay.example/v/' },
                { kind: 'column', column: 'c1' },
                { kind: 'text', text: '?s=' },
                { kind: 'column', column: 'c3' },
              ],
              fields: {
                signed: [
                  { kind: 'column', column: 'c1' },
                  { kind: 'column', column: 'c3' },
                ],
              },
            },
          ],
        },
      },
      'test',
    );
    await rejudgeList(t.db, list);
    const { rule, version: v } = await viewCheckpoint(t.db, checkpoint);
    await changeCheckpoint(t.db, checkpoint, {
      version: v,
      rule: { ...rule, often: 'any', takes: [{ ...rule.takes[0]!, genuine: true }] },
    });
    const { stamps } = await t.db
      .selectFrom('lists')
      .select('stamps')
      .where('id', '=', list)
      .executeTakeFirstOrThrow();
    const content = contentOf(stamps[0]!, { c1: 'B-1', c2: 'Rune', c3: 'Sat', c4: 'hush0' });
    if (content.state !== 'said') throw new Error('it says nothing');
    const { payload } = content;
    expect((await scan(checkpoint, { text: payload })).answer).toBe('comes-in');
    expect(await scan(checkpoint, { text: payload.replace('B-1', 'B-2') })).toMatchObject({
      answer: 'altered',
      title: 'Keiko',
    });
    const last = payload.at(-1) === 'A' ? 'B' : 'A';
    expect(await scan(checkpoint, { text: payload.slice(0, -1) + last })).toMatchObject({
      answer: 'altered',
      why: 'its proof is wrong',
    });
    await editCells(t.db, list, [{ record: records[0]!, column: 'c3', value: 'Sun' }], 'test');
    await rejudgeList(t.db, list);
    expect(await scan(checkpoint, { text: payload })).toMatchObject({
      answer: 'comes-in',
      differs: 'Shift: the code says Sat, the list Sun',
    });
  });

  test('by a link is known under any address, and withdrawn with it', async () => {
    const { id, list, checkpoint } = await gate();
    const column = await keepWorkedColumn(
      t.db,
      list,
      {
        name: 'Link',
        worked: {
          source: {
            kind: 'link',
            for: 'anyone',
            parts: [
              { kind: 'text', text: 'https://marrambay.example/' },
              { kind: 'column', column: 'c1' },
            ],
          },
          steps: [],
        },
      },
      'test',
    );
    const { version, document } = await viewJob(t.db, id);
    await changeJob(
      t.db,
      id,
      {
        version,
        document: {
          ...document,
          stamps: [{ ...document.stamps[0]!, does: 'page', parts: [{ kind: 'column', column }] }],
        },
      },
      'test',
    );
    await rejudgeList(t.db, list);
    const [first, second] = await t.db
      .selectFrom('links')
      .selectAll()
      .where('list_id', '=', list)
      .orderBy('record_id')
      .execute();
    expect((await scan(checkpoint, { text: `HTTPS://OLD.EXAMPLE/${first!.code}` })).answer).toBe(
      'comes-in',
    );
    await changeLinks(t.db, { codes: [second!.code] }, { state: 'withdrawn' }, 'test');
    expect((await scan(checkpoint, { text: `HTTPS://OLD.EXAMPLE/${second!.code}` })).answer).toBe(
      'withdrawn',
    );
  });

  test('by hand needs a reason and is known for what it is; taken back it may come again', async () => {
    const { checkpoint, records } = await gate();
    expect(await findRecords(t.db, checkpoint, 'kei')).toEqual([
      { record: records[1], title: 'Keiko', key: 'B-2' },
    ]);
    const key = randomUUID();
    expect(
      (await scan(checkpoint, { key, how: 'hand', record: records[1], reason: 'forgotten' }))
        .answer,
    ).toBe('comes-in');
    await Promise.all(
      Array.from({ length: 5 }, () =>
        takeBack(t.db, checkpoint, me, { key: randomUUID(), scan: key, reason: 'wrong one' }),
      ),
    );
    const tape = await linesOf(checkpoint);
    expect(tape.map((l) => [l.answer, l.back, l.reason])).toEqual([
      ['taken-back', false, 'wrong one'],
      ['comes-in', true, 'forgotten'],
    ]);
    expect((await scan(checkpoint, { text: code(2) })).answer).toBe('comes-in');
    const other = await gate();
    await expect(
      scan(checkpoint, { how: 'hand', record: other.records[0], reason: 'x' }),
    ).rejects.toThrow('no longer in a list');
  });

  test('of something that is no text for a database is answered all the same', async () => {
    const { checkpoint } = await gate();
    expect((await scan(checkpoint, { text: 'a\u0000b' })).answer).toBe('unknown');
    expect((await scan(checkpoint, { text: '\ud800' })).answer).toBe('unknown');
    expect((await scan(checkpoint, { text: 'x'.repeat(4000) })).answer).toBe('unknown');
  });

  test('of a reader that adds something of its own is told, once it is known', async () => {
    const { checkpoint } = await gate();
    expect((await scan(checkpoint, { text: `#1${code(1)}!` })).wrap).toEqual({
      before: '#1',
      after: '!',
    });
    expect((await scan(checkpoint, { how: 'camera', text: `#1${code(1)}!` })).wrap).toBeNull();
  });
});

describe('a device', () => {
  test('joins once, is known by its cookie for its checkpoint alone, and is out at once', async () => {
    const { checkpoint } = await gate();
    const a = await join(checkpoint, 'Keiko’s phone');
    await expect(joinDevice(t.db, a.token)).rejects.toThrow('already used');
    expect(await deviceAsking(t.db, a.headers, checkpoint)).toMatchObject({
      id: a.id,
      name: 'Keiko’s phone',
    });
    await expect(deviceAsking(t.db, a.headers, checkpoint + 1)).rejects.toThrow(
      'another checkpoint',
    );
    await expect(
      deviceAsking(t.db, new Headers({ cookie: `${deviceCookie}=x` }), checkpoint),
    ).rejects.toThrow('has not joined');
    expect((await viewCheckpoint(t.db, checkpoint)).devices).toMatchObject([
      { name: 'Keiko’s phone', state: 'in-touch' },
    ]);
    await shutDevice(t.db, checkpoint, a.id);
    await expect(deviceAsking(t.db, a.headers, checkpoint)).rejects.toThrow('removed');
    const kept = await t.db
      .selectFrom('checkpoint_devices')
      .selectAll()
      .where('id', '=', a.id)
      .executeTakeFirstOrThrow();
    expect(JSON.stringify(kept)).not.toContain(a.token);
    expect(JSON.stringify(kept)).not.toContain(a.headers.get('cookie')!.split('=')[1]);
  });

  test('by one code lets one in, however many scan it at once', async () => {
    const { checkpoint } = await gate();
    const { address } = await addDevice(t.db, checkpoint, { name: 'x', hours: 1 }, 'test');
    const all = await Promise.allSettled(
      Array.from({ length: 8 }, () => joinDevice(t.db, address.split('#')[1]!)),
    );
    expect(all.filter((one) => one.status === 'fulfilled')).toHaveLength(1);
  });

  test('takes back its own last scan only', async () => {
    const { checkpoint } = await gate();
    const [a, b] = [await join(checkpoint, 'a'), await join(checkpoint, 'b')];
    const key = randomUUID();
    await scan(checkpoint, { key, text: code(1) }, a.who);
    await expect(
      takeBack(t.db, checkpoint, b.who, { key: randomUUID(), scan: key }),
    ).rejects.toThrow('own last scan');
    await scan(checkpoint, { text: code(2) }, a.who);
    await expect(
      takeBack(t.db, checkpoint, a.who, { key: randomUUID(), scan: key }),
    ).rejects.toThrow('own last scan');
  });

  test('without a network a signed code is checked by a public key, and no other key goes along', async () => {
    const { id, list, checkpoint } = await gate();
    const { version, document } = await viewJob(t.db, id);
    const stamp = {
      ...document.stamps[0]!,
      does: 'genuine',
      parts: [
        { kind: 'text' as const, text: 'https://marrambay.example/v/' },
        { kind: 'column' as const, column: 'c1' },
      ],
      fields: { signed: [{ kind: 'column' as const, column: 'c1' }] },
      proofKey: 'new',
      proofKind: 'public' as const,
    };
    await changeJob(t.db, id, { version, document: { ...document, stamps: [stamp] } }, 'test');
    await rejudgeList(t.db, list);
    const pack = await packFor(t.db, checkpoint);
    expect(pack.signed).toEqual([
      {
        parts: stamp.parts,
        signed: ['c1'],
        publicKey: expect.stringMatching(/^[0-9a-f]{64}$/) as string,
      },
    ]);
    expect(JSON.stringify(pack)).not.toMatch(/sealed:|proofKey/);
    const kept = (await viewJob(t.db, id)).document.stamps[0]!;
    const said = (no: string) => {
      const content = contentOf(kept, { c1: no });
      return content.state === 'said' ? content.payload : '';
    };
    const index = packIndex(pack);
    const apart = (text: string) => answerApart(pack, index, text, Date.now(), String).answer;
    expect(apart(said('B-1'))).toBe('comes-in');
    expect(apart(said('B-99'))).toBe('not-certain');
    expect(apart(said('B-99').replace('B-99', 'B-98'))).toBe('altered');
    expect((await scan(checkpoint, { text: said('B-1') })).answer).toBe('comes-in');
    expect((await scan(checkpoint, { text: said('B-2').replace('B-2', 'B-3') })).answer).toBe(
      'altered',
    );
  });

  test('without a network answers as we would, from what tells no code', async () => {
    const { checkpoint } = await gate(
      { often: 'each-session', session: { kind: 'hand', names: ['Sat', 'Sun'], now: 'Sat' } },
      { holds: [{ column: 'c3', is: 'session', value: '' }], shows: ['c3'] },
    );
    await scan(checkpoint, { text: code(2) });
    const pack = await packFor(t.db, checkpoint);
    expect(JSON.stringify(pack)).not.toContain('B-1');
    const index = packIndex(pack);
    for (const [text, answer] of [
      [code(1), 'comes-in'],
      [code(2), 'was-here'],
      [code(3), 'not-now'],
      ['nobody', 'not-certain'],
    ] as const)
      expect(answerApart(pack, index, text, Date.now(), String).answer).toBe(answer);
    expect(pack.records[0]!.shown).toEqual([['Shift', 'Sat']]);
  });

  test('and another that let the same code in while apart: both lines stay and say so, on both devices', async () => {
    const { checkpoint } = await gate();
    const [a, b] = [await join(checkpoint, 'North phone'), await join(checkpoint, 'South phone')];
    await scan(checkpoint, { text: code(1) }, b.who);
    const now = Date.now();
    const earlier = { at: now - 600_000, answer: 'comes-in' as const, why: '' };
    const lot = [
      scanOf({ text: code(1), apart: earlier }),
      scanOf({ text: code(2), apart: { ...earlier, at: now - 500_000 } }),
    ];
    // handed over twice at once, and once more
    await Promise.all(
      [1, 2].map(() => takeScans(t.db, checkpoint, a.who, lot as never, { now, waiting: 3 })),
    );
    await takeScans(t.db, checkpoint, a.who, lot as never, { now, waiting: 0 });
    const tape = await linesOf(checkpoint);
    expect(
      tape.filter((l) => l.title === 'Rune').map((l) => [l.who, l.answer, l.apart, l.twice?.who]),
    ).toEqual([
      ['North phone', 'comes-in', true, 'South phone'],
      ['South phone', 'comes-in', false, 'North phone'],
    ]);
    expect(tape).toHaveLength(3);
    const told = async (device: typeof a) =>
      (await stateFor(t.db, checkpoint, { id: device.id, checkpoint, name: '' }, 0)).twice.map(
        (one) => [one.title, one.other.who],
      );
    expect(await told(a)).toEqual([['Rune', 'South phone']]);
    expect(await told(b)).toEqual([['Rune', 'North phone']]);
    expect(await viewBoard(t.db, checkpoint, { search: '', missing: 9, lines: 9 })).toMatchObject({
      in: 2,
      twice: 1,
    });
  });

  test('whose clock is wrong has its times put right', async () => {
    const { checkpoint } = await gate();
    const a = await join(checkpoint, 'slow');
    const slow = Date.now() - 3_600_000;
    await takeScans(
      t.db,
      checkpoint,
      a.who,
      [scanOf({ text: code(1), apart: { at: slow - 60_000, answer: 'comes-in' } }) as never],
      { now: slow, waiting: 0 },
    );
    const [line] = await linesOf(checkpoint);
    expect(Math.abs(Date.now() - 60_000 - Date.parse(line!.at))).toBeLessThan(20_000);
    expect((await viewCheckpoint(t.db, checkpoint)).devices[0]!.clock).toBeLessThan(-3500);
  });

  test('that was not certain hands over what is found now, and one that let in what is gone says so', async () => {
    const { checkpoint, list, records } = await gate();
    const a = await join(checkpoint, 'a');
    const apart = (answer: 'comes-in' | 'not-certain') => ({ at: Date.now(), answer, why: '' });
    await takeScans(
      t.db,
      checkpoint,
      a.who,
      [scanOf({ text: code(1), apart: apart('not-certain') }) as never],
      { now: Date.now(), waiting: 0 },
    );
    await removeRecords(t.db, list, [records[1]!], 'test');
    await takeScans(
      t.db,
      checkpoint,
      a.who,
      [scanOf({ text: code(2), apart: apart('comes-in') }) as never],
      { now: Date.now(), waiting: 0 },
    );
    expect((await linesOf(checkpoint)).map((l) => [l.answer, l.found])).toEqual([
      ['comes-in', 'unknown'],
      ['comes-in', null],
    ]);
  });
});

describe('a checkpoint', () => {
  test('refuses a rule that cannot be, and one said anew in two windows', async () => {
    const { checkpoint } = await gate();
    const { rule, version } = await viewCheckpoint(t.db, checkpoint);
    const say = (next: Partial<Rule>) =>
      changeCheckpoint(t.db, checkpoint, { version, rule: { ...rule, ...next } });
    await expect(say({ often: 'each-session' })).rejects.toThrow('no sessions');
    await expect(
      say({ opens: '2026-11-28T12:00:00Z', ends: '2026-11-28T11:00:00Z' }),
    ).rejects.toThrow('before the start');
    await expect(say({ takes: [rule.takes[0]!, rule.takes[0]!] })).rejects.toThrow('twice');
    await expect(say({ takes: [{ ...rule.takes[0]!, genuine: true }] })).rejects.toThrow(
      'No stamp',
    );
    await expect(say({ takes: [{ ...rule.takes[0]!, shows: ['c99'] }] })).rejects.toThrow(
      'no longer exists',
    );
    const both = await Promise.allSettled([say({ often: 'any' }), say({ often: 'once' })]);
    expect(both.filter((one) => one.status === 'fulfilled')).toHaveLength(1);
  });

  test('outlives its list, and is thrown away with its tape', async () => {
    const { checkpoint, list } = await gate();
    await scan(checkpoint, { text: code(1) });
    await removeList(t.db, list);
    expect(await scan(checkpoint, { text: code(2) })).toMatchObject({
      answer: 'unknown',
      why: expect.stringContaining('no longer exists'),
    });
    expect((await listCheckpoints(t.db)).find((c) => c.id === checkpoint)).toMatchObject({
      in: 1,
      of: 1,
      lists: [],
    });
    await removeCheckpoint(t.db, checkpoint);
    await expect(scan(checkpoint, { text: code(2) })).rejects.toThrow('deleted');
  });

  test('forgets what was scanned after the time that Settings say', async () => {
    const { checkpoint } = await gate();
    await scan(checkpoint, { text: code(1) });
    await scan(checkpoint, { text: code(2) });
    await t.db
      .updateTable('checkpoint_scans')
      .set({ at: new Date(Date.now() - 366 * 86_400_000) })
      .where('checkpoint_id', '=', checkpoint)
      .where('title', '=', 'Rune')
      .execute();
    await takeAwayTheOld(t.db);
    expect((await linesOf(checkpoint)).map((l) => l.title)).toEqual(['Keiko']);
  });

  test('gives its log as text and as a workbook, formulas as text, and codes of nobody to those who may change', async () => {
    const { checkpoint } = await gate();
    await scan(checkpoint, { text: '=cmd|x' });
    await scan(checkpoint, { text: code(1) });
    const csv = async (all: boolean) => {
      const parts: Uint8Array[] = [];
      for await (const part of logCsv(t.db, checkpoint, all)) parts.push(part);
      return Buffer.concat(parts).toString();
    };
    expect((await csv(true)).split('\r\n').filter(Boolean)).toHaveLength(3);
    expect(await csv(true)).toContain('scanned: =cmd|x');
    expect(await csv(true)).not.toMatch(/[,\n"]=cmd/);
    expect(await csv(false)).not.toContain('cmd');
    expect(
      Buffer.from(await logBook(t.db, checkpoint, true))
        .subarray(0, 2)
        .toString(),
    ).toBe('PK');
  });
});

import { randomInt, randomUUID } from 'node:crypto';
import { sql } from 'kysely';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { LinkRow } from '../../../src/contract';
import { codeIn, isLinkCode, newLinkCode } from '../../../src/core/links/code';
import { countScan, writeScans } from '../../../src/server/links/counting';
import {
  changeLinks,
  changeOurAddresses,
  effectOfAddresses,
  followLink,
  linkCounts,
  linksAfter,
  listLinks,
  makeLink,
  undoLinks,
  viewLink,
} from '../../../src/server/links';
import {
  addRecords,
  changeColumn,
  createList,
  editCells,
  keepWorkedColumn,
  removeList,
  removeRecords,
  removeWorkedColumn,
  stepBack,
} from '../../../src/server/lists';
import { ourAddresses } from '../../../src/server/platform';
import { openDatabase } from '../../../src/server/platform/db';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { workOff } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());

const phone = { 'user-agent': 'Mozilla/5.0 (iPhone) Mobile Safari' };
const below = (most: number) => randomInt(most);
let visitors = 0;
/** A new visitor scans a code. */
const scan = (
  code: string,
  headers: Record<string, string> = phone,
  from = `10.0.0.${++visitors}`,
  preview = false,
) =>
  followLink(
    t.db,
    code,
    new Request('http://localhost/x', { headers: { ...headers, 'x-forwarded-for': from } }),
    { preview },
  );
const preview = (code: string) => scan(code, phone, '10.0.1.1', true);
const leadsTo = async (code: string) => (await scan(code)).headers.get('location');

/** A list of beds with a column of links to their pages. */
async function beds(
  rows: string[][] = [
    ['1', 'Sea kale'],
    ['2', 'Thrift'],
    ['3', 'Sea holly'],
  ],
  whom: 'anyone' | 'one' = 'anyone',
) {
  const { id } = await createList(t.db, {
    name: `Beds ${randomUUID()}`,
    source: 'test',
    headings: ['Bed', 'Plant'],
    roles: ['key', 'name'],
    rows,
    note: '',
    actor: 'test',
  });
  const column = await keepWorkedColumn(
    t.db,
    id,
    {
      name: 'Link',
      worked: {
        source: {
          kind: 'link',
          for: whom,
          parts: [
            { kind: 'text', text: 'https://marrambay.example/beds/' },
            { kind: 'column', column: 'c1' },
          ],
        },
        steps: [],
      },
    },
    'Oda',
  );
  return { list: id, column };
}
const records = (list: number) =>
  t.db
    .selectFrom('records')
    .select(['id', 'values'])
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();
const codesOf = async (list: number, column: string) =>
  (await records(list)).map((r) => codeIn(r.values[column] ?? '')!);

describe('a column of links', () => {
  test('gives each record one, which leads where its record says, and follows it', async () => {
    const { list, column } = await beds();
    const codes = await codesOf(list, column);
    expect(new Set(codes).size).toBe(3);
    expect(codes.every(isLinkCode)).toBe(true);
    expect(await leadsTo(codes[0]!)).toBe('https://marrambay.example/beds/1');
    expect(await leadsTo(codes[0]!.toLowerCase())).toBe('https://marrambay.example/beds/1');
    const [first] = await records(list);
    await editCells(t.db, list, [{ record: first!.id, column: 'c1', value: 'A/7' }], 'test');
    expect(await codesOf(list, column)).toEqual(codes);
    expect(await leadsTo(codes[0]!)).toBe('https://marrambay.example/beds/A%2F7');
  });
  test('is not made anew by a blank, an undoing, or a record that went and came back', async () => {
    const { list, column } = await beds();
    const codes = await codesOf(list, column);
    const [first, second] = await records(list);
    await editCells(t.db, list, [{ record: first!.id, column: 'c1', value: '' }], 'test');
    expect((await records(list))[0]!.values[column]).toBe('');
    expect((await scan(codes[0]!)).status).toBe(404);
    await editCells(t.db, list, [{ record: first!.id, column: 'c1', value: '9' }], 'test');
    expect((await codesOf(list, column))[0]).toBe(codes[0]);
    await removeRecords(t.db, list, [second!.id], 'test');
    const gone = await scan(codes[1]!);
    expect([gone.status, await gone.text()]).toEqual([
      404,
      expect.stringContaining('There is no page here yet'),
    ]);
    expect((await viewLink(t.db, codes[1]!, 'administrator')).title).toBe('Thrift');
    await stepBack(t.db, list, 'undo', 'test');
    expect(await codesOf(list, column)).toEqual(codes);
    expect(await leadsTo(codes[1]!)).toBe('https://marrambay.example/beds/2');
  });
  test('gives records that are added theirs, and no two the same when many come at once', async () => {
    const { list, column } = await beds([['0', 'First']]);
    await Promise.all(
      Array.from({ length: 8 }, (_, n) =>
        addRecords(
          t.db,
          list,
          Array.from({ length: 60 }, (_, i) => ({ c1: `${n}-${i}`, c2: 'New' })),
          'test',
        ),
      ),
    );
    await workOff(t);
    const codes = await codesOf(list, column);
    expect(codes).toHaveLength(481);
    expect(new Set(codes).size).toBe(481);
    const { n } = await t.db
      .selectFrom('links')
      .select((e) => e.fn.countAll<number>().as('n'))
      .where('list_id', '=', list)
      .executeTakeFirstOrThrow();
    expect(n).toBe(481);
  });
  test('leads elsewhere when the column says so, and goes on leading when the column or the list is gone', async () => {
    const { list, column } = await beds();
    const codes = await codesOf(list, column);
    const { columns } = await t.db
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', list)
      .executeTakeFirstOrThrow();
    const { worked, name } = columns.find((c) => c.id === column)!;
    await keepWorkedColumn(
      t.db,
      list,
      {
        id: column,
        name,
        was: { name, worked: worked! },
        worked: {
          source: {
            kind: 'link',
            for: 'anyone',
            parts: [
              { kind: 'text', text: 'https://marrambay.example/plants/' },
              { kind: 'column', column: 'c2' },
            ],
          },
          steps: [],
        },
      },
      'Tam',
    );
    expect(await codesOf(list, column)).toEqual(codes);
    expect(await leadsTo(codes[0]!)).toBe('https://marrambay.example/plants/Sea%20kale');
    const [line] = (await viewLink(t.db, codes[0]!, 'administrator')).history;
    expect(line).toMatchObject({ of: 'column', by: 'Tam' });
    await removeWorkedColumn(t.db, list, column, 'test');
    expect(await leadsTo(codes[0]!)).toBe('https://marrambay.example/plants/Sea%20kale');
    await changeLinks(
      t.db,
      { codes: [codes[1]!] },
      { leads: fixed('https://marrambay.example/kept') },
      'test',
    );
    await removeList(t.db, list);
    expect((await scan(codes[0]!)).status).toBe(404);
    expect(await leadsTo(codes[1]!)).toBe('https://marrambay.example/kept');
  });
  test('for anyone leads to nothing secret', async () => {
    const { list } = await beds();
    await changeColumn(t.db, list, { does: 'secret', id: 'c2', secret: true }, 'test');
    await expect(
      keepWorkedColumn(
        t.db,
        list,
        {
          name: 'Other',
          worked: {
            source: {
              kind: 'link',
              for: 'anyone',
              parts: [
                { kind: 'text', text: 'https://a.example/' },
                { kind: 'column', column: 'c2' },
              ],
            },
            steps: [],
          },
        },
        'test',
      ),
    ).rejects.toThrow('one person each');
  });
});

const fixed = (text: string) => ({ parts: [{ kind: 'text' as const, text }] });

describe('a change of links', () => {
  test('is in force at once, is told, and is taken back where nothing else was said since', async () => {
    const { list, column } = await beds();
    const [a, b, c] = (await codesOf(list, column)) as [string, string, string];
    const { batch, changed } = await changeLinks(
      t.db,
      { codes: [a, b] },
      { leads: fixed('https://marrambay.example/moved') },
      'Oda',
    );
    expect(changed).toBe(2);
    expect(await leadsTo(a)).toBe('https://marrambay.example/moved');
    expect(await leadsTo(c)).toBe('https://marrambay.example/beds/3');
    await changeLinks(
      t.db,
      { codes: [b] },
      { leads: fixed('https://marrambay.example/again') },
      'Tam',
    );
    expect(await undoLinks(t.db, batch, 'Ines')).toEqual({ undone: 1, left: 1 });
    expect(await leadsTo(a)).toBe('https://marrambay.example/beds/1');
    expect(await leadsTo(b)).toBe('https://marrambay.example/again');
    const { history } = await viewLink(t.db, a, 'administrator');
    expect(history.map((line) => [line.by, line.undone])).toEqual([
      ['Ines', true],
      ['Oda', true],
    ]);
    await expect(undoLinks(t.db, batch, 'Ines')).rejects.toThrow('changed again since');
  });
  test('leads nowhere dangerous, not in a ring, and by no column of another list', async () => {
    const { list, column } = await beds();
    const [a] = (await codesOf(list, column)) as [string];
    const alone = await makeLink(
      t.db,
      { title: 'Map', to: 'https://marrambay.example/map', for: 'one' },
      'test',
    );
    expect(alone.code).toHaveLength(13);
    const say = (codes: string[], leads: Parameters<typeof changeLinks>[2]['leads']) =>
      changeLinks(t.db, { codes }, { leads }, 'test');
    const { links: base } = await ourAddresses(t.db);
    await expect(say([a], fixed(`${base}/${alone.code}`))).rejects.toThrow('in a circle');
    await expect(say([a], fixed('javascript:alert(1)'))).rejects.toThrow('http');
    await expect(
      say([a, alone.code], {
        parts: [
          { kind: 'text', text: 'https://a.example/' },
          { kind: 'column', column: 'c1' },
        ],
      }),
    ).rejects.toThrow('different lists');
    await expect(say([a], { parts: [{ kind: 'column', column: 'c99' }] })).rejects.toThrow(
      'no longer exists',
    );
    await expect(say([alone.code], null)).rejects.toThrow('no record to follow');
    await expect(
      changeLinks(t.db, { codes: [a] }, { opens: '2099-12-02', ends: '2099-12-01' }, 'test'),
    ).rejects.toThrow('before the start');
    await changeLinks(t.db, { codes: [a] }, { ends: '2099-12-01' }, 'test');
    await expect(
      changeLinks(t.db, { codes: [a] }, { opens: '2099-12-02' }, 'test'),
    ).rejects.toThrow('before the start');
    await expect(
      makeLink(t.db, { title: 'x', to: 'ftp://a.example', for: 'anyone' }, 'test'),
    ).rejects.toThrow('http');
    // a record whose link leads to another link of ours does not lead in a circle either
    const [first] = await records(list);
    await editCells(
      t.db,
      list,
      [{ record: first!.id, column: 'c2', value: `${base}/${a}` }],
      'test',
    );
    await say([a], { parts: [{ kind: 'column', column: 'c2' }] });
    expect((await scan(a)).status).toBe(404);
  });
  test('that withdraws is for ever', async () => {
    const { code } = await makeLink(
      t.db,
      { title: 'Talk', to: 'https://marrambay.example/talk', for: 'anyone' },
      'test',
    );
    const { batch } = await changeLinks(t.db, { codes: [code] }, { state: 'withdrawn' }, 'test');
    expect((await scan(code)).status).toBe(410);
    await expect(undoLinks(t.db, batch, 'test')).rejects.toThrow('stays withdrawn');
    await expect(changeLinks(t.db, { codes: [code] }, { state: 'open' }, 'test')).rejects.toThrow(
      'withdrawn',
    );
  });
  test('of everything that is shown is one statement for thousands', async () => {
    const rows = Array.from({ length: 2500 }, (_, i) => [String(i), `Plant ${i}`]);
    const { list } = await beds(rows);
    const { changed, batch } = await changeLinks(
      t.db,
      { all: { filter: 'all', search: '', list } },
      { state: 'paused' },
      'test',
    );
    expect(changed).toBe(2500);
    expect((await linkCounts(t.db, list, 'administrator')).paused).toBe(2500);
    const passed: string[] = [];
    for (let more = true; more;) {
      const rows = await linksAfter(
        t.db,
        { list, after: passed.at(-1) ?? '', limit: 700 },
        'administrator',
      );
      passed.push(...rows.map((row) => row.code));
      more = rows.length === 700;
    }
    expect(new Set(passed).size).toBe(2500);
    expect(passed).toHaveLength(2500);
    expect(await undoLinks(t.db, batch, 'test')).toEqual({ undone: 2500, left: 0 });
    expect(await linkCounts(t.db, list, 'administrator')).toMatchObject({
      paused: 0,
      open: 2500,
      all: 2500,
    });
  });
  test('by two at once leaves one of them in force and both told', async () => {
    const { code } = await makeLink(
      t.db,
      { title: 'Two', to: 'https://marrambay.example/0', for: 'anyone' },
      'test',
    );
    await Promise.all(
      Array.from({ length: 6 }, (_, i) =>
        changeLinks(
          t.db,
          { codes: [code] },
          { leads: fixed(`https://marrambay.example/${i + 1}`) },
          `p${i}`,
        ),
      ),
    );
    const view = await viewLink(t.db, code, 'administrator');
    expect(view.history).toHaveLength(6);
    // each began from what the one before it had made
    const chain = [...view.history].reverse();
    for (const [i, line] of chain.entries())
      if (i > 0) expect(line.before.leads).toEqual(chain[i - 1]!.after.leads);
    expect(view.rule.leads).toEqual(chain.at(-1)!.after.leads);
  });
});

describe('whoever scans a link', () => {
  test('is led on without anything being kept, and told in words where it leads nowhere', async () => {
    const { code } = await makeLink(
      t.db,
      { title: 'Map', to: 'https://marrambay.example/map?x=1&y="', for: 'anyone' },
      'test',
    );
    const led = await scan(code);
    expect(led.status).toBe(302);
    expect(Object.fromEntries(led.headers)).toMatchObject({
      'cache-control': 'no-store',
      'referrer-policy': 'no-referrer',
      'x-robots-tag': 'noindex, nofollow',
    });
    const where = await preview(code);
    const page = await where.text();
    expect(where.status).toBe(200);
    expect(page).toContain('This leads to marrambay.example');
    expect(page).not.toContain('y="');
    expect(page).not.toContain('<script');
    const wrong = code.slice(0, -1) + (code.endsWith('2') ? '3' : '2');
    expect(await (await scan(wrong)).text()).toContain('One character is wrong');
    let other = code;
    while (other === code) other = newLinkCode('anyone', below);
    const unknown = await scan(other);
    expect([unknown.status, await unknown.text()]).toEqual([
      404,
      expect.stringContaining('This link does not exist'),
    ]);
    await changeLinks(t.db, { codes: [code] }, { peeks: true }, 'test');
    expect((await scan(code)).status).toBe(200);
    await changeLinks(t.db, { codes: [code] }, { opens: '2099-01-01' }, 'test');
    expect(await (await scan(code)).text()).toContain('1 January 2099');
    await changeLinks(
      t.db,
      { codes: [code] },
      { opens: null, ends: '2020-01-01', after: 'https://marrambay.example/over' },
      'test',
    );
    expect(await (await scan(code)).text()).toContain('https://marrambay.example/over');
    await changeLinks(t.db, { codes: [code] }, { after: null }, 'test');
    expect((await scan(code)).status).toBe(410);
  });
  test('finds nothing by trying, and others at the same place are still led on', async () => {
    const { code } = await makeLink(
      t.db,
      { title: 'Map', to: 'https://marrambay.example/map', for: 'anyone' },
      'test',
    );
    const tries = [];
    for (let i = 0; i < 40; i++)
      tries.push((await scan(newLinkCode('anyone', below), phone, '192.0.2.7')).status);
    expect(tries.slice(0, 30)).toEqual(Array.from({ length: 30 }, () => 404));
    expect(new Set(tries.slice(30))).toEqual(new Set([429]));
    expect((await scan(code, phone, '192.0.2.7')).status).toBe(302);
    // a client that invents addresses is still where the proxy says
    const made = newLinkCode('anyone', below);
    expect((await scan(made, phone, `10.9.9.9, 192.0.2.7`)).status).toBe(429);
  });
});

describe('scans', () => {
  const scansOfCode = async (code: string) =>
    t.db
      .selectFrom('link_scans')
      .select(['device', 'scans', 'hour'])
      .where('code', '=', code)
      .orderBy('device')
      .execute();
  test('are counted by hour and class of device, robots apart, and nothing else is kept', async () => {
    const { list, column } = await beds();
    const [a] = (await codesOf(list, column)) as [string];
    await Promise.all([
      scan(a),
      scan(a),
      scan(a, { 'user-agent': 'Mozilla/5.0 (Windows NT 10.0)' }),
      scan(a, { 'user-agent': 'Previewbot/1.0' }),
      preview(a),
    ]);
    await writeScans(t.db);
    expect((await scansOfCode(a)).map(({ device, scans }) => [device, scans])).toEqual([
      ['computer', 1],
      ['phone', 2],
      ['robot', 1],
    ]);
    const { rows } = await sql<{
      column_name: string;
    }>`select column_name from information_schema.columns where table_name = 'link_scans' order by 1`.execute(
      t.db,
    );
    expect(rows.map((r) => r.column_name)).toEqual(['code', 'device', 'hour', 'scans']);
    const view = await viewLink(t.db, a, 'administrator');
    expect(view.scans).toBe(3);
    expect(view.devices).toMatchObject({ phone: 2, robot: 1 });
    expect(view.hours.flat().reduce((x, y) => x + y)).toBe(3);
    expect(view.daily.at(-1)!.scans).toBe(3);
    const { rows: shown } = await listLinks(
      t.db,
      { filter: 'all', search: '', list, order: 'scans', from: 0 },
      'administrator',
    );
    expect(shown[0]).toMatchObject({ code: a, scans: 3 } satisfies Partial<LinkRow>);
    expect(shown[0]!.days.at(-1)).toBe(3);
  });
  test('are found by where they lead now and by their whole printed address', async () => {
    const { list, column } = await beds();
    const [first] = (await codesOf(list, column)) as [string];
    const found = async (search: string) =>
      (
        await listLinks(
          t.db,
          { filter: 'all', search, list, order: 'new', from: 0 },
          'administrator',
        )
      ).rows.map((r) => r.code);
    const { leading } = await viewLink(t.db, first, 'administrator');
    const to = leading.kind === 'leads' ? leading.to : '';
    expect(to).toMatch(/^https/);
    expect(await found(to)).toContain(first);
    for (const printed of [
      `HTTPS://GO.MARRAMBAY.EXAMPLE/${first}`,
      `https://x.example/${first.toLowerCase()}/preview`,
    ])
      expect([printed, await found(printed)]).toEqual([printed, [first]]);
    expect(await found('https://nowhere.example/at/all')).toEqual([]);
  });
  test('are not lost while the database is away, nor counted twice when its answer was', async () => {
    const { code } = await makeLink(
      t.db,
      { title: 'Away', to: 'https://marrambay.example/a', for: 'anyone' },
      'test',
    );
    await scan(code);
    const away = openDatabase(t.url.replace(/:\d+\//, ':1/'), 1);
    countScan(away.db, code, 'phone');
    await writeScans(away.db);
    expect(await scansOfCode(code)).toEqual([]);
    countScan(away.db, code, 'tablet');
    await writeScans(t.db);
    await writeScans(t.db);
    expect((await scansOfCode(code)).map(({ device, scans }) => [device, scans])).toEqual([
      ['phone', 2],
      ['tablet', 1],
    ]);
    await away.db.destroy();
  });
  test('by many at once are all there', async () => {
    const made = await Promise.all(
      Array.from({ length: 5 }, (_, i) =>
        makeLink(
          t.db,
          { title: `M${i}`, to: 'https://marrambay.example/a', for: 'anyone' },
          'test',
        ),
      ),
    );
    for (let round = 0; round < 10; round++) {
      for (const { code } of made) for (let i = 0; i < 20; i++) countScan(t.db, code, 'phone');
      void writeScans(t.db);
    }
    await writeScans(t.db);
    for (const { code } of made)
      expect((await viewLink(t.db, code, 'administrator')).scans).toBe(200);
  });
});

describe('those who only look', () => {
  test('see no link that is for one person, nor count it', async () => {
    const { list, column } = await beds(undefined, 'one');
    const [a] = (await codesOf(list, column)) as [string];
    expect(a).toHaveLength(13);
    expect((await linkCounts(t.db, list, 'viewer')).all).toBe(0);
    expect((await linkCounts(t.db, list, 'editor')).all).toBe(3);
    await expect(viewLink(t.db, a, 'viewer')).rejects.toThrow('does not exist');
    expect(
      (
        await listLinks(
          t.db,
          { filter: 'all', search: a.slice(0, 5), list, order: 'new', from: 0 },
          'viewer',
        )
      ).rows,
    ).toEqual([]);
  });
});

describe('the address of this installation', () => {
  test('is said once, is in force at once, and what was printed under another is told before', async () => {
    const { list, column } = await beds();
    const before = (await records(list)).map((r) => r.values[column]!);
    expect(before.every((address) => address.startsWith('HTTP://LOCALHOST:3000/'))).toBe(true);
    await changeOurAddresses(t.db, {
      base: 'https://stamp.marrambay.example',
      links: 'https://go.marrambay.example',
    });
    await workOff(t);
    const after = (await records(list)).map((r) => r.values[column]!);
    expect(after.map(codeIn)).toEqual(before.map(codeIn));
    expect(after.every((address) => address.startsWith('HTTPS://GO.MARRAMBAY.EXAMPLE/'))).toBe(
      true,
    );
    const effect = await effectOfAddresses(t.db, {
      base: 'https://stamp.marrambay.example',
      links: 'https://other.example',
    });
    expect(effect.links).toBeGreaterThan(2);
    // changing one address leaves the other, also if both are changed at the same moment
    await Promise.all([
      changeOurAddresses(t.db, { links: 'https://scan.marrambay.example' }),
      changeOurAddresses(t.db, { base: 'https://desk.marrambay.example' }),
    ]);
    expect(await ourAddresses(t.db)).toMatchObject({
      base: 'https://desk.marrambay.example',
      links: 'https://scan.marrambay.example',
      from: 'settings',
    });
    expect((await effectOfAddresses(t.db, { links: 'https://scan.marrambay.example' })).links).toBe(
      0,
    );
    await changeOurAddresses(t.db, { links: '' });
    expect((await ourAddresses(t.db)).links).toBe('https://desk.marrambay.example');
    await changeOurAddresses(t.db, {
      base: 'https://stamp.marrambay.example',
      links: 'https://go.marrambay.example',
    });
    expect((await ourAddresses(t.db)).former).toContain('http://localhost:3000');
    // a code printed with an earlier host name is still ours
    await expect(
      makeLink(t.db, { title: 'x', to: before[0]!, for: 'anyone' }, 'test'),
    ).rejects.toThrow('in a circle');
    process.env.HAND_STAMP_URL = 'https://started.marrambay.example';
    expect((await ourAddresses(t.db)).base).toBe('https://started.marrambay.example');
    await expect(
      changeOurAddresses(t.db, { base: 'https://stamp.marrambay.example', links: '' }),
    ).rejects.toThrow('HAND_STAMP_URL');
    delete process.env.HAND_STAMP_URL;
  });
});

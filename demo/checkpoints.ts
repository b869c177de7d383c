import { randomUUID } from 'node:crypto';
import { contentOf } from '../src/core/payload/stamp';
import { createList } from '../src/server/lists';
import { rejudgeList } from '../src/server/judging';
import {
  changeByOneself,
  changeCheckpoint,
  checkInByOneself,
  makeCheckpoint,
  scanOnRound,
  startRound,
  takeScans,
} from '../src/server/checkpoints';
import type { Database } from '../src/server/platform/db';

const minute = 60_000;
const session = 'Sat morning';

/**
 * When people came, in minutes before now, in the order of the list: a few early, most of them
 * together, some late.
 */
const arrivedBefore = (n: number): number => {
  const wave = Math.sin((n * 12.9898) % 3.14);
  return 6 + ((n * 37) % 41) + Math.round(42 * (1 - wave)) + (n % 7 === 0 ? 34 : 0);
};

/**
 * The gate of the open weekend on its first morning: most people of the session came, some twice,
 * one with a foreign code.
 */
export async function northGate(db: Database, job: number): Promise<void> {
  const { list, columns, stamps } = await db
    .selectFrom('lists')
    .innerJoin('jobs', 'jobs.list_id', 'lists.id')
    .select(['lists.id as list', 'lists.columns', 'lists.stamps'])
    .where('jobs.id', '=', job)
    .executeTakeFirstOrThrow();
  const named = (name: string) => columns.find((c) => c.name === name)!.id;
  const id = await makeCheckpoint(db, { name: 'North gate, open weekend', list }, 'Wren Halloran');
  await changeCheckpoint(db, id, {
    version: 1,
    rule: {
      takes: [
        {
          list,
          stamps: [],
          genuine: false,
          holds: [{ column: named('Shift'), is: 'session', value: '' }],
          shows: [named('Role'), named('Site')],
        },
      ],
      often: 'each-session',
      session: { kind: 'column', column: named('Shift'), now: session },
      opens: null,
      ends: null,
    },
  });
  const records = await db
    .selectFrom('records')
    .select(['id', 'values'])
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();
  const said = (values: (typeof records)[number]['values']) => {
    const content = contentOf(stamps[0]!, values);
    return content.state === 'said' ? content.payload : undefined;
  };
  const due = records.filter(({ values }) => values[named('Shift')] === session);
  const others = records.filter(({ values }) => values[named('Shift')] !== session);
  const scans = due
    .filter((_, n) => n % 5 !== 3)
    .map(({ values }, n) => ({ text: said(values), before: arrivedBefore(n) }));
  const more = [
    { text: scans[4]?.text, before: 9 },
    { text: scans[11]?.text, before: 31 },
    { text: said(others[0]!.values), before: 22 },
    { text: said(others[5]!.values), before: 48 },
    { text: 'https://marrambay.example/map', before: 17 },
  ];
  const now = Date.now();
  for (const { text, before } of [...scans, ...more].sort((a, b) => b.before - a.before)) {
    if (text === undefined) continue;
    const key = randomUUID();
    await takeScans(
      db,
      id,
      { device: null, who: before % 3 === 0 ? 'Keiko’s phone' : 'Gate reader' },
      [{ key, how: before % 3 === 0 ? 'camera' : 'reader', text }],
      { now, waiting: 0 },
    );
    await db
      .updateTable('checkpoint_scans')
      .set({ at: new Date(now - before * minute - ((before * 17) % 60) * 1000) })
      .where('key', '=', key)
      .execute();
  }
}

/**
 * The round of the Glasshouse: most of what belongs there was seen, and five things that belong
 * elsewhere.
 */
export async function glasshouseRound(db: Database, job: number): Promise<void> {
  const { list, columns, stamps } = await db
    .selectFrom('lists')
    .innerJoin('jobs', 'jobs.list_id', 'lists.id')
    .select(['lists.id as list', 'lists.columns', 'lists.stamps'])
    .where('jobs.id', '=', job)
    .executeTakeFirstOrThrow();
  const site = columns.find((c) => c.name === 'Where')!.id;
  const records = await db
    .selectFrom('records')
    .select(['id', 'values'])
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();
  const place = 'Glasshouse';
  const there = records.filter(({ values }) => values[site] === place);
  const astray = records
    .filter(({ values }) => values[site] !== place)
    .filter((_, n) => n % 23 === 4);
  const id = await startRound(db, { name: 'Autumn round', list, column: site }, 'Wren Halloran');
  const seen = there.filter((_, n) => n % 6 !== 5);
  for (const { values } of [...seen.slice(0, 20), ...astray.slice(0, 5), ...seen.slice(20)]) {
    const content = contentOf(stamps[0]!, values);
    if (content.state !== 'said') continue;
    await scanOnRound(
      db,
      id,
      { key: randomUUID(), how: 'reader', place, text: content.payload },
      'Wren Halloran',
    );
  }
}

const guests: readonly (readonly [
  name: string,
  workshop: string,
  answers?: Record<string, string>,
])[] = [
  ['Orla Fennimore', 'Grafting', { q1: 'soup', q2: 'yes', q3: '14' }],
  ['Teodor Brask', 'Grafting', { q1: 'bread and cheese', q3: '3' }],
  ['Maite Olondo', 'Drawing grasses', { q1: 'soup', q3: '41' }],
  ['Σταύρος Λυγερός', 'Grafting'],
  ['Pia Holmgaard', 'Drawing grasses', { q1: 'nothing, thank you' }],
  ['Jun Aramaki', 'Saving seed'],
  ['Nils Overby', 'Saving seed', { q1: 'soup', q3: '7,5' }],
  ['Céline Auvray', 'Grafting'],
  ['Hedda Strand', 'Drawing grasses'],
  ['Emrys Tudwal', 'Saving seed', { q1: 'bread and cheese', q3: '22' }],
  ['Anouk Desmet', 'Saving seed'],
  ['Ravi Chandarana', 'Drawing grasses'],
];

/** The guests of the workshops check in by themselves, on a page each, and enter what they eat. */
export async function workshopGuests(db: Database): Promise<void> {
  const headings = ['No', 'Name', 'Workshop'];
  const rows = guests.map(([name, workshop], n) => [
    `WG-${String(n + 1).padStart(2, '0')}`,
    name,
    workshop,
  ]);
  const { id: list } = await createList(db, {
    name: 'Workshop guests',
    source: 'typing',
    headings,
    roles: ['key', 'name', 'text'],
    rows,
    note: `${rows.length} records`,
    actor: 'demo',
  });
  await rejudgeList(db, list);
  const id = await makeCheckpoint(db, { name: 'Workshops', list }, 'Wren Halloran');
  const question = { choices: [], needed: false, only: null, column: null };
  await changeByOneself(
    db,
    id,
    {
      version: 1,
      document: {
        open: true,
        words: 'Welcome to the open weekend. Please answer two questions.',
        again: true,
        ends: null,
        questions: [
          {
            ...question,
            id: 'q1',
            kind: 'choice',
            ask: 'What would you like for lunch?',
            choices: ['soup', 'bread and cheese', 'nothing, thank you'],
            needed: true,
          },
          {
            ...question,
            id: 'q2',
            kind: 'tick',
            ask: 'I will bring my own knife',
            only: { column: 'c3', is: 'Grafting' },
          },
          { ...question, id: 'q3', kind: 'number', ask: 'How far did you travel (km)?' },
        ],
      },
    },
    'Wren Halloran',
  );
  const pages = await db
    .selectFrom('record_pages')
    .innerJoin('records', 'records.id', 'record_pages.record_id')
    .select(['record_pages.id', 'records.position'])
    .where('record_pages.list_id', '=', list)
    .orderBy('records.position')
    .execute();
  for (const { id: page, position } of pages) {
    const answers = guests[position]?.[2];
    if (answers)
      await checkInByOneself(
        db,
        page,
        id,
        new Request('http://localhost/', { method: 'POST', body: new URLSearchParams(answers) }),
      );
  }
}

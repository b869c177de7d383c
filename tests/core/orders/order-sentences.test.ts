import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  chipsBefore,
  orderSchema,
  orderTrouble,
  placesIn,
  startsFrom,
  withoutSecrets,
  type Order,
} from '../../../src/core/orders/order';
import {
  namesOf,
  saysOrder,
  shortCondition,
  shortStep,
  shortWhen,
} from '../../../src/core/orders/says';
import type { Column } from '../../../src/core/records/columns';

const columns: Column[] = [
  { id: 'c1', name: 'No', role: 'key' },
  { id: 'c2', name: 'Bed', role: 'text' },
  { id: 'c3', name: 'Pin', role: 'text', secret: true },
];
const spoken = {
  lists: [
    { id: 1, name: 'Accessions', columns },
    { id: 2, name: 'Trays', columns: [{ id: 't1', name: 'Of', role: 'text' as const }] },
  ],
  jobs: [{ id: 7, name: 'Bed signs', stamps: [{ id: 's', name: 'the code' }] }],
  printers: [{ id: 3, name: 'the label printer' }],
  checkpoints: [{ id: 4, name: 'North gate' }],
};
const order = (over: object): Order =>
  orderSchema.parse({
    when: { kind: 'record', list: 1, on: ['came', 'changed'] },
    conditions: { all: true, list: [] },
    steps: [],
    ...over,
  });
const says = (over: object) => {
  const one = order(over);
  return saysOrder(one, namesOf(spoken, one));
};
const make = { kind: 'make', id: 'a', job: 7, output: 'pdf', which: 'record' };

describe('an order read aloud', () => {
  test('is the whole sentence, by the names of what it speaks of', () => {
    expect(
      says({
        conditions: {
          all: true,
          list: [
            { of: 'column', column: 'c2', is: 'filled' },
            { of: 'done', done: false },
          ],
        },
        steps: [
          make,
          { kind: 'print', id: 'b', printer: 3 },
          { kind: 'mail', id: 'c', to: [{ kind: 'text', text: 'a@marrambay.example' }] },
        ],
      }),
    ).toBe(
      'When a record is added to Accessions or changes and its Bed is not blank and only once for each record: make Bed signs for it, as PDF for print, then print it on the label printer, then email it to a@marrambay.example.',
    );
  });

  test.each<[object, RegExp]>([
    [
      { kind: 'reaches', list: 1, column: 'c2', value: '' },
      /^When Bed of a record of Accessions becomes nothing/,
    ],
    [
      { kind: 'document', folder: 'Loans', again: false },
      /^When a file arrives in the In-tray’s folder Loans:/,
    ],
    [{ kind: 'call' }, /^When a program calls this order/],
    [{ kind: 'scan', of: 'checkpoint', checkpoint: 4, list: 1 }, /scanned at North gate/],
    [{ kind: 'scan', of: 'checkpoint', checkpoint: 9, list: 1 }, /scanned at a deleted checkpoint/],
    [
      {
        kind: 'schedule',
        schedule: { kind: 'days', days: [5], at: '07:30', zone: 'Europe/London' },
      },
      /^When it is time: every Friday at 07:30/,
    ],
    [{ kind: 'hand', list: 9 }, /for records of a deleted list/],
  ])('starts from %j', (when, words) => {
    expect(says({ when })).toMatch(words);
    expect(shortWhen(order({ when }).when)).not.toBe('');
  });

  test('says in few words what stands over a column of the rehearsal', () => {
    const names = namesOf(spoken, order({}));
    expect(shortWhen(order({}).when)).toBe('comes or changes');
    expect(shortCondition({ of: 'column', column: 'c2', is: 'before', value: '5' }, names)).toBe(
      'Bed before',
    );
    expect(shortCondition({ of: 'column', column: 'c9', is: 'blank', value: '' }, names)).toBe(
      'column deleted blank',
    );
    expect(shortStep(order({ steps: [{ ...make, which: 'new' }] }).steps[0]!)).toBe('run the job');
  });
});

describe('what keeps an order from being switched on', () => {
  const write = (parts: object[], column = 'c2') => ({ kind: 'write', id: 'w', column, parts });
  test.each<[object, string | undefined]>([
    [{}, 'First choose what it does.'],
    [{ steps: [make, { kind: 'out', id: 'b' }] }, undefined],
    [{ steps: [{ kind: 'out', id: 'b' }] }, 'First choose what is made'],
    [
      { steps: [make, { ...make, which: 'new' }] },
      'Two of its steps have the same name. Rename one.',
    ],
    [
      { steps: [write([{ kind: 'text', text: 'x' }], 'gone')] },
      'The column that it writes to was deleted.',
    ],
    [{ steps: [write([])] }, 'Enter what is written to Bed.'],
    [{ steps: [write([{ kind: 'column', column: 'c3' }])] }, 'Pin is secret'],
    [{ steps: [write([{ kind: 'column', column: 'c3' }], 'c3')] }, undefined],
    [
      { when: { kind: 'call' }, steps: [make] },
      'This order starts without a record. Choose for which records it makes something.',
    ],
    [
      { steps: [{ kind: 'take', id: 't', job: 7 }] },
      'Only a file that arrived can be added to the PDFs of a job.',
    ],
    [{ steps: [{ kind: 'call', id: 'c' }] }, 'Enter the web address to call.'],
    [
      { when: { kind: 'reaches', list: 1, column: 'gone', value: 'x' }, steps: [make] },
      'The column that it waits for was deleted. Choose another.',
    ],
  ])('%j', (over, words) => {
    const trouble = orderTrouble(order(over), columns);
    if (words === undefined) expect(trouble).toBeUndefined();
    else expect(trouble).toContain(words);
  });

  test('headers that hold a message together are set by nobody', () => {
    for (const name of ['Host', 'content-length', 'Idempotency-Key', 'bad name', ''])
      expect(() =>
        order({
          steps: [{ kind: 'call', id: 'c', headers: [{ name, value: 'x', secret: false }] }],
        }),
      ).toThrow();
  });
});

describe('what an order is told', () => {
  test('starts it once a value is reached, however it is written', () => {
    const { when } = order({ when: { kind: 'reaches', list: 1, column: 'c2', value: 'Gone' } });
    const event = (before: string | undefined, after: string, change = 'changed' as const) => ({
      ...{ list: 1, change, before: before === undefined ? null : { c2: before } },
      after: { c2: after },
    });
    expect(startsFrom(when, event('here', ' gone '))).toBe(true);
    expect(startsFrom(when, event('GONE', 'gone'))).toBe(false);
    expect(startsFrom(when, { ...event(undefined, 'gone'), change: 'came' })).toBe(true);
    expect(startsFrom(when, { ...event('here', 'gone'), change: 'went' })).toBe(false);
    expect(startsFrom(when, { ...event('here', 'gone'), list: 2 })).toBe(false);
  });

  test('of what was sent every value has a place, however deep, and no more than is kept', () => {
    expect([...placesIn({ a: { b: [1, { c: true }], d: null }, e: 'x' })]).toEqual([
      ['a.b.0', '1'],
      ['a.b.1.c', 'true'],
      ['e', 'x'],
    ]);
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 12 }), (sent) => {
        const places = placesIn(sent);
        expect(places.size).toBeLessThanOrEqual(200);
        for (const value of places.values()) expect(typeof value).toBe('string');
      }),
    );
  });

  test('chips are what came in and what the steps before made, and nothing secret of other lists', () => {
    const one = order({
      when: { kind: 'call', list: 1 },
      steps: [
        { kind: 'link', id: 'l', to: [{ kind: 'text', text: 'https://marrambay.example/' }] },
        { kind: 'each', id: 'e', list: 1, column: 'c2' },
        { kind: 'stop', id: 's' },
      ],
    });
    const names = (before: number) =>
      chipsBefore(one, before, ['plant.no'], () => columns).map((chip) => chip.name);
    expect(names(0)).toEqual(['today', 'plant.no']);
    expect(names(2)).toEqual(['today', 'plant.no', 'the link made', 'No', 'Bed']);
  });

  test('is shown to nobody with the values of its secret headers', () => {
    const one = order({
      steps: [
        {
          kind: 'call',
          id: 'c',
          headers: [
            { name: 'X-Key', value: 'tide-table', secret: true },
            { name: 'X-From', value: 'garden', secret: false },
          ],
        },
      ],
    });
    expect(JSON.stringify(withoutSecrets(one))).not.toContain('tide-table');
    expect(JSON.stringify(withoutSecrets(one))).toContain('garden');
  });
});

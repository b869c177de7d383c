import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { isSecret, type Column } from '../../../src/core/records/columns';
import {
  addressKinds,
  holdsAddresses,
  beginningDefinitions,
  beginningOf,
  beginningSchema,
  type WorkedSource,
} from '../../../src/core/records/beginnings';
import { givenOnce, sourcesOf, stepTroubles, workOut } from '../../../src/core/records/worked';

const columns = [{ id: 'c1' }, { id: 'c2' }];
const context = {
  position: 6,
  lookup: () => '',
  secret: (n: number) => 'x'.repeat(n),
  address: (kind: string, before: string) => before || `https://ours.example/${kind}`,
};
const names: Record<string, string> = { c1: 'Item', c2: 'Tag' };
const nameOf = (id: string) => names[id] ?? 'a deleted column';
const proofKey = 'ab'.repeat(32);

/** One of each kind, as lists hold them. */
const kept: Record<WorkedSource['kind'], WorkedSource> = {
  join: {
    kind: 'join',
    parts: [
      { kind: 'text', text: 'MB-' },
      { kind: 'column', column: 'c2' },
    ],
  },
  series: { kind: 'series', start: 100, by: 5 },
  secret: { kind: 'secret', length: 8 },
  link: { kind: 'link', for: 'anyone', parts: [{ kind: 'column', column: 'c1' }] },
  page: { kind: 'page' },
  picture: { kind: 'picture', stamp: 'stamp-1' },
  proof: { kind: 'proof', columns: ['c1', 'c2'], key: proofKey },
};
const all = Object.values(kept);
const column = (source: WorkedSource): Column => ({
  id: 'w',
  name: 'Worked',
  role: 'text',
  worked: { source, steps: [] },
});
const plain: Column[] = Object.entries(names).map(([id, name]) => ({ id, name, role: 'text' }));

test('every kind there is has its entry, under its own name', () => {
  expect([...beginningDefinitions.keys()].sort()).toEqual(Object.keys(kept).sort());
  for (const [kind, beginning] of beginningDefinitions) {
    expect(beginningSchema.parse(kept[kind])).toEqual(kept[kind]);
    if (beginning.start) expect(beginning.start(columns).kind).toBe(kind);
  }
});

describe.each([...beginningDefinitions])('%s', (kind, beginning) => {
  const source = kept[kind];

  test('begins as something that can be kept, also in a list without columns', () => {
    for (const there of [columns, []])
      if (beginning.start)
        expect(beginningSchema.safeParse(beginning.start(there)), `${kind}`).toMatchObject({
          success: true,
        });
  });

  test('is said in the sentence, whether or not its columns are there yet', () => {
    const said = [beginning.before?.(source, 2), beginning.words?.(source, nameOf)].join('');
    // a content is described by its parts
    if (beginning.asks?.as !== 'parts') expect(said).toMatch(/^(a|the) [^{}[\]]+$/);
    expect(said).not.toMatch(/undefined|\[object/);
  });

  test('what its editor asks is a part of what is kept', () => {
    const { asks } = beginning;
    if (!asks) return;
    for (const of of asks.as === 'numbers' ? asks.of.map((n) => n.of) : [asks.of])
      expect(source).toHaveProperty(of);
  });

  test('a value made once is kept as it is, another is made of the record as it is now', () => {
    const made = workOut({ source, steps: [] }, { c1: 'Rake', c2: '17' }, '', context);
    expect(made).not.toBe('');
    const again = workOut({ source, steps: [] }, { c1: 'Hoe', c2: '18' }, made, context);
    if (givenOnce(source)) expect(again).toBe(made);
    else expect(again === made).toBe(sourcesOf({ source, steps: [] }).length === 0);
  });

  test('steps never touch what is made once', () => {
    const steps = [{ kind: 'replace' as const, find: 'x', by: 'y' }];
    const values = { c1: 'xx', c2: 'xx' };
    if (beginning.once)
      expect(workOut({ source, steps }, values, '', context)).toBe(
        workOut({ source, steps: [] }, values, '', context),
      );
  });
});

test('what a column is made from is what makes it secret, unless it says so itself', () => {
  const hidden = plain.map((c) => ({ ...c, secret: c.id === 'c2' }));
  const secret = (source: WorkedSource, of: Column[]) => isSecret(column(source), of);
  expect(all.filter((s) => secret(s, plain)).map((s) => s.kind)).toEqual(['secret', 'proof']);
  expect(all.filter((s) => secret(s, hidden)).map((s) => s.kind)).toEqual([
    'join',
    'secret',
    'proof',
  ]);
  // an address of one person's page is secret
  expect(secret({ ...kept.link, for: 'one' } as WorkedSource, plain)).toBe(true);
});

test('addresses of ours are the three kinds that stand on our base', () => {
  expect([...addressKinds].sort()).toEqual(['link', 'page', 'picture']);
  expect(all.filter((s) => holdsAddresses(column(s))).map((s) => s.kind)).toEqual(addressKinds);
  expect(holdsAddresses(plain[0]!)).toBe(false);
});

test('a blank record has no value but by count or chance, and never half of one', () => {
  const said = all.map((source) => [
    source.kind,
    workOut({ source, steps: [] }, { c1: ' ', c2: '' }, '', context) !== '',
  ]);
  expect(Object.fromEntries(said)).toEqual({
    join: false,
    series: true,
    secret: true,
    link: false,
    page: true,
    picture: true,
    proof: false,
  });
});

test('only a counted number outgrows its places; nothing is weighed of chance and of proofs', () => {
  const steps = [{ kind: 'fill' as const, to: 2, with: '0', at: 'front' as const }];
  const troubled = all.filter(
    (source) => stepTroubles({ source, steps }, { c1: '12345', c2: '12345' }, 6).length > 0,
  );
  expect(troubled.map((s) => s.kind)).toEqual(['series']);
});

test('whatever is typed into a list, no kind makes something that breaks or is cut in half', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), fc.string({ unit: 'binary' }), (c1, c2) => {
      for (const source of all) {
        if (beginningOf(source).vouches) continue;
        const made = workOut({ source, steps: [] }, { c1, c2 }, '', context);
        expect(typeof made).toBe('string');
        if (source.kind === 'join' && c2.trim() !== '') expect(made).toBe(`MB-${c2.trim()}`);
      }
    }),
    { numRuns: 200 },
  );
});

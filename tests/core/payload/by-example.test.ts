import fc from 'fast-check';
import { expect, test } from 'vitest';
import { mostSample, markPart, meantBy, proposeParts } from '../../../src/core/payload/by-example';
import { contentOf, firstStamp, type Part, type Stamp } from '../../../src/core/payload/stamp';
import type { Column } from '../../../src/core/records/columns';

const columns: Column[] = ['a', 'b', 'c'].map((id) => ({ id, name: id, role: 'text' }));
const page: Stamp = { ...firstStamp([{ id: 'a', name: 'a', role: 'address' }]), parts: [] };
const text = (of: string): Part => ({ kind: 'text', text: of });
const column = (of: string): Part => ({ kind: 'column', column: of });
const sampleOf = (parts: Part[], values: Record<string, string>): string => {
  const content = contentOf({ ...page, parts }, values);
  if (content.state !== 'said') throw new Error(JSON.stringify(content));
  return content.payload;
};

test('a short value is found after an escape, whose last letter is no word of its own', () => {
  const inner = 'https://form.example/?to=https%3A%2F%2Fa.example%2Fp%3Fid%3D';
  for (const [middle, value] of [
    ['', 'T4'],
    ['x%26n%3D', 'T4'],
    ['%2F', 'AB'],
    ['x%20', 'AB'],
  ] as const) {
    const sample = `${inner}${middle}${value}%26k%3D1`;
    const { found, parts } = proposeParts(sample, { a: value }, columns, true);
    expect(
      found.map((f) => f.written),
      sample,
    ).toEqual([value]);
    expect(sampleOf(parts, { a: value })).toBe(sample);
    expect(sampleOf(parts, { a: 'Zo é' })).toContain('Zo%2520%25C3%25A9');
  }
});

test('what is a part of an escape is no value', () => {
  const sample = 'https://a.example/?q=x%3D-%2F-25';
  expect(proposeParts(sample, { a: '3D', b: '2F' }, columns, true).found).toEqual([]);
  expect(proposeParts(sample, { a: '25' }, columns, true).found.map((f) => f.written)).toEqual([
    '25',
  ]);
});

test('two columns with one value: both are named, and the other one can be meant', () => {
  const sample = 'https://a.example/?first=Quill';
  const proposal = proposeParts(sample, { a: 'Quill', b: 'Quill' }, columns, true);
  expect(proposal.found).toMatchObject([{ column: 'a', also: ['b'] }]);
  const other = meantBy(proposal, proposal.found[0]!.part, 'b');
  expect(other.found).toMatchObject([{ column: 'b', also: ['a'] }]);
  expect(sampleOf(other.parts, { a: 'x', b: 'Rowan' })).toBe('https://a.example/?first=Rowan');
});

test('the places of columns stay right when one more part is marked', () => {
  const sample = 'https://a.example/one/Quill';
  const proposal = markPart(proposeParts(sample, { a: 'Quill' }, columns, true), 'one', 'b');
  for (const { part, column: of } of proposal.found)
    expect(proposal.parts[part]).toEqual({ kind: 'column', column: of });
});

test('one character, or a value inside a word, is told and not taken', () => {
  const { found, otherwise } = proposeParts(
    'https://a.example/?d=3&w=CABLE',
    { a: '3', b: 'AB' },
    columns,
    true,
  );
  expect(found).toEqual([]);
  expect(otherwise.map((o) => [o.column, o.written])).toEqual([
    ['a', '3'],
    ['b', 'AB'],
  ]);
});

test('a sample longer than any code is left as it is', () => {
  const sample = `https://a.example/${'x'.repeat(mostSample)}/Quill`;
  expect(proposeParts(sample, { a: 'Quill' }, columns, true).found).toEqual([]);
});

/** An address with columns in it, any number of addresses deep. */
const nested = (depth: number): fc.Arbitrary<Part[]> => {
  const piece = fc.oneof(
    fc.constantFrom('a', 'b', 'c').map(column),
    fc.constantFrom('x', 'p1', '-', 'Item').map(text),
  );
  const encoded = (of: string) => {
    let out = of;
    for (let i = 0; i < depth; i++) out = encodeURIComponent(out);
    return text(out);
  };
  const own = fc
    .tuple(piece, piece, fc.constantFrom('/', '?n=', '?v=1&n=', '?q=x%20', '#'))
    .map(([first, second, by]) => [encoded('https://a.example/'), first, encoded(by), second]);
  return depth >= 3
    ? own
    : fc.oneof(
        own,
        nested(depth + 1).map((inner) => [encoded('https://b.example/f?to='), ...inner]),
      );
};

test('any example made from a record is found again, or what is not found is told', () => {
  const value = fc.oneof(
    fc.string({ minLength: 1, maxLength: 7 }),
    fc.constantFrom(
      '3',
      'AB',
      '3D',
      '2F',
      'T-4',
      'Zoë',
      'Dune House',
      '王小明',
      'a/b?c=d&e',
      '100%',
    ),
  );
  fc.assert(
    fc.property(nested(0), fc.record({ a: value, b: value, c: value }), (parts, values) => {
      const trimmed = Object.fromEntries(Object.entries(values).map(([id, of]) => [id, of.trim()]));
      fc.pre(Object.values(trimmed).every((of) => of !== '' && !/[\p{Cc}\p{Cs}]/u.test(of)));
      const sample = sampleOf(parts, trimmed);
      const proposal = proposeParts(sample, trimmed, columns, true);
      expect(sampleOf(proposal.parts, trimmed)).toBe(sample);
      for (const part of parts) {
        if (part.kind !== 'column') continue;
        const told =
          proposal.found.some((f) => f.column === part.column || f.also.includes(part.column)) ||
          proposal.otherwise.some((o) => o.column === part.column) ||
          // by chance it is a part of another value, or another is a part of it
          [...proposal.found, ...proposal.otherwise].some(
            (f) =>
              trimmed[f.column]!.includes(trimmed[part.column]!) ||
              trimmed[part.column]!.includes(trimmed[f.column]!),
          );
        expect(told, `${part.column} in ${sample} of ${JSON.stringify(trimmed)}`).toBe(true);
      }
    }),
    { numRuns: 2000 },
  );
});

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { proofFits } from '../../../src/core/base/proof';
import { stepDefinitions, stepOf, type WorkedStep } from '../../../src/core/records/steps';
import {
  sourcesOf,
  withWorked,
  workOut,
  workedSchema,
  type Worked,
} from '../../../src/core/records/worked';

const context = {
  position: 4,
  lookup: () => '',
  secret: (n: number) => 's'.repeat(n),
  address: (_kind: string, before: string) => before || 'HTTPS://GO.EXAMPLE/7K2M9Q4TX',
};
const values = { c1: 'Dune House', c2: '142', c3: '07/06/2026', c4: '', c5: '200041100001' };
const from = (column: string, ...steps: WorkedStep[]): Worked => ({
  source: { kind: 'join', parts: [{ kind: 'column', column }] },
  steps,
});
const made = (worked: Worked, before = '') => workOut(worked, values, before, context);

describe('a worked column begins as', () => {
  test('columns and words joined; all blank stays blank', () => {
    const join = (...columns: string[]): Worked => ({
      source: {
        kind: 'join',
        parts: columns.flatMap((column, i) => [
          ...(i ? [{ kind: 'text' as const, text: '-' }] : []),
          { kind: 'column' as const, column },
        ]),
      },
      steps: [],
    });
    expect(made(join('c1', 'c2'))).toBe('Dune House-142');
    expect(made(join('c4'))).toBe('');
    expect(made(join('c4', 'c4'))).toBe('');
    expect(made(join('c4', 'c2'))).toBe('-142');
    expect(
      made({
        source: { kind: 'join', parts: [{ kind: 'text', text: 'same for all' }] },
        steps: [],
      }),
    ).toBe('same for all');
  });
  test('a number in series, by its place in the list', () => {
    expect(
      made({
        source: { kind: 'series', start: 100, by: 5 },
        steps: [{ kind: 'fill', to: 5, with: '0', at: 'front' }],
      }),
    ).toBe('00120');
  });
  test('a secret, made once and kept', () => {
    const secret: Worked = { source: { kind: 'secret', length: 12 }, steps: [] };
    expect(made(secret)).toBe('ssssssssssss');
    expect(made(secret, 'already')).toBe('already');
  });
  test('a proof of other columns', () => {
    const key = '00112233445566778899aabbccddeeff';
    const proof = made({ source: { kind: 'proof', columns: ['c1', 'c2'], key }, steps: [] });
    const bytes = Uint8Array.from(key.match(/../g)!, (p) => parseInt(p, 16));
    expect(proofFits(proof, ['Dune House', '142'], bytes)).toBe(true);
    expect(made({ source: { kind: 'proof', columns: ['c4'], key }, steps: [] })).toBe('');
  });
});

describe('steps', () => {
  test.each([
    ['c1', { kind: 'replace', find: ' ', by: '_' }, 'Dune_House'],
    ['c2', { kind: 'fill', to: 6, with: '0', at: 'front' }, '000142'],
    ['c2', { kind: 'fill', to: 5, with: 'x', at: 'end' }, '142xx'],
    ['c1', { kind: 'case', to: 'capitals' }, 'DUNE HOUSE'],
    ['c1', { kind: 'case', to: 'small letters' }, 'dune house'],
    ['c1', { kind: 'take', which: 'first', count: 4 }, 'Dune'],
    ['c1', { kind: 'take', which: 'last', count: 5 }, 'House'],
    ['c3', { kind: 'digits' }, '07062026'],
    ['c3', { kind: 'date', as: '2026-11-23', first: 'day' }, '2026-06-07'],
    ['c3', { kind: 'date', as: '23 Nov 2026', first: 'month' }, '6 Jul 2026'],
    ['c1', { kind: 'date', as: '261123', first: 'day' }, ''],
    ['c5', { kind: 'check-digit' }, '2000411000017'],
    ['c1', { kind: 'check-digit' }, ''],
    ['c1', { kind: 'percent' }, 'Dune%20House'],
    ['c4', { kind: 'fallback', text: 'none' }, 'none'],
    ['c2', { kind: 'fallback', text: 'none' }, '142'],
  ] as [string, WorkedStep, string][])('%s %o', (column, step, wanted) =>
    expect(made(from(column, step))).toBe(wanted),
  );

  test('initials of names with hyphens, apostrophes and accents', () => {
    const initials = (name: string) =>
      workOut(from('c', { kind: 'case', to: 'capital initials' }), { c: name }, '', context);
    expect(initials("INES OKAFOR-LINDQVIST o'neil ÉLODIE")).toBe(
      "Ines Okafor-Lindqvist O'Neil Élodie",
    );
  });
  test('dates in every form come to the same day, and days that do not exist come to nothing', () => {
    const day = (text: string) =>
      workOut(
        from('c', { kind: 'date', as: '2026-11-23', first: 'month' }),
        { c: text },
        '',
        context,
      );
    for (const text of ['2026-02-09', '9.2.2026', '02/09/2026', '9 Feb 2026', '9. February 2026'])
      expect([text, day(text)]).toEqual([text, '2026-02-09']);
    for (const text of ['2026-02-30', '31.4.2026', '13/13/2026', 'tomorrow'])
      expect([text, day(text)]).toEqual([text, '']);
  });
  test('a blank stays blank through every step but a fallback', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.constantFrom<WorkedStep>(
            { kind: 'digits' },
            { kind: 'fill', to: 4, with: '0', at: 'front' },
            { kind: 'percent' },
            { kind: 'check-digit' },
          ),
        ),
        (steps) => {
          expect(made(from('c4', ...steps))).toBe('');
        },
      ),
    );
  });
});

describe('all worked columns of a record', () => {
  test('use those before them, and leave the others as they are', () => {
    const columns = [
      { id: 'c1' },
      { id: 'w1', worked: from('c2', { kind: 'fill', to: 4, with: '0', at: 'front' }) },
      { id: 'w2', worked: from('w1', { kind: 'take', which: 'last', count: 2 }) },
    ];
    expect(withWorked(columns, values, context)).toEqual({ ...values, w1: '0142', w2: '42' });
    expect(sourcesOf(columns[2]!.worked!)).toEqual(['w1']);
    expect(workedSchema.safeParse(columns[1]!.worked).success).toBe(true);
    expect(
      workedSchema.safeParse({ source: { kind: 'secret', length: 2 }, steps: [] }).success,
    ).toBe(false);
  });
});

test.each(stepDefinitions)(
  'a step that begins can be kept, read, said and done: $name',
  (definition) => {
    const { start, fields, schema } = definition;
    expect(schema.parse(start)).toEqual(start);
    expect(stepOf(start)).toBe(definition);
    expect(definition.words(start)).not.toBe('');
    const said = fields.flatMap((field) =>
      field.as === 'other list' ? [field.list, field.by, field.give] : [field.of],
    );
    // its editor asks for everything that it holds
    expect(['kind', ...said].sort()).toEqual(Object.keys(start).sort());
    for (const field of fields)
      if (field.as === 'choice')
        for (const choice of field.choices)
          expect(schema.safeParse({ ...start, [field.of]: choice }).success, choice).toBe(true);
      else if (field.as === 'number')
        for (const [count, fits] of [
          [field.min - 1, false],
          [field.min, true],
          [field.max, true],
          [field.max + 1, false],
        ] as const)
          expect(schema.safeParse({ ...start, [field.of]: count }).success, `${count}`).toBe(fits);
    // a blank is filled by nothing that does not say so
    expect(workOut(from('c4', start), values, '', context)).toBe(definition.fills?.(start) ?? '');
  },
);

import { expect, test } from 'vitest';
import * as z from 'zod';
import { unknownField } from '../../../src/core/base/unknown-fields';

const look = z.object({ size: z.number(), colour: z.string().optional() });
const schema = z.object({
  name: z.string().trim(),
  looks: z.array(look).default([]),
  by: z.record(z.string(), look).optional(),
  one: z
    .union([z.object({ kind: z.literal('a'), x: z.number() }), z.object({ kind: z.literal('b') })])
    .nullable()
    .optional(),
});
const of = (value: unknown) => unknownField(schema, value);

test('a field that no schema knows is found, however deep it lies', () => {
  expect(of({ name: 'x', looks: [{ size: 1 }], by: { any: { size: 2 } }, one: null })).toBe(
    undefined,
  );
  expect(of({ name: 'x', record: 1 })).toBe('record');
  expect(of({ name: 'x', looks: [{ size: 1 }, { size: 2, color: 'red' }] })).toBe('looks[1].color');
  expect(of({ name: 'x', by: { left: { size: 1, z: 0 } } })).toBe('by.left.z');
  expect(of({ name: 'x', one: { kind: 'a', x: 1 } })).toBe(undefined);
  expect(of({ name: 'x', one: { kind: 'b', x: 1 } })).toBe('one.x');
});

test('names that every object has are no fields, and bring nothing down', () => {
  for (const name of ['__proto__', 'constructor', 'toString', 'hasOwnProperty'])
    expect(of(JSON.parse(`{"name":"x","${name}":{"a":1}}`))).toBe(name);
});

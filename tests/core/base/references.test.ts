import * as z from 'zod';
import { expect, test } from 'vitest';
import * as contract from '../../../src/contract';
import {
  declaresReferences,
  hasReferences,
  isHeld,
  referencesIn,
  refersTo,
} from '../../../src/core/base/references';
import { jobDocumentSchema } from '../../../src/core/job/document';
import { columnSchema } from '../../../src/core/records/columns';

const lookup = { kind: 'lookup', list: 7, by: 'c1', give: 'c2' };

test('a reference is found wherever it is in a value', () => {
  const number = refersTo('document', z.number());
  const schema = z.object({
    one: number.optional(),
    many: z.array(z.object({ in: z.union([z.string(), z.object({ of: number })]) })),
    by: z.record(z.string(), number.nullable()),
    lazy: z.lazy(() => z.object({ deep: number }).optional()),
  });
  const ids = (value: unknown) => referencesIn(schema, value).map((r) => r.id);
  expect(ids({ one: 1, many: [{ in: 'x' }, { in: { of: 2 } }], by: { a: 3 }, lazy: { deep: 4 } })).toEqual([1, 2, 3, 4]); // prettier-ignore
  expect(ids({ many: [], by: {} })).toEqual([]);
  expect(hasReferences(z.object({ id: z.number() }))).toBe(false);
});

test('what a job and a column name is found, with the columns that are read', () => {
  const column = { id: 'w1', name: 'W', role: 'text', worked: { source: { kind: 'join', parts: [] }, steps: [lookup] } }; // prettier-ignore
  expect(referencesIn(columnSchema, column)).toEqual([
    { thing: 'list', id: 7, columns: ['c1', 'c2'] },
  ]);
  const spot = { part: 'word/document.xml', paragraph: 0, from: 0, to: 1 };
  const piece = {
    stock: 'a4-sign',
    elements: [],
    ground: {
      kind: 'document',
      document: 3,
      name: 'x',
      places: [
        { id: 'p', ...spot, example: 'x', parts: [{ kind: 'column', column: 'c5' }], blank: 'words', block: 'b' }, // prettier-ignore
        { id: 'q', ...spot, example: 'x', parts: [{ kind: 'column', column: 'c6' }], blank: 'words' }, // prettier-ignore
      ],
      codes: [],
      blocks: [{ id: 'b', part: spot.part, goes: 0, list: 9, by: 'c1', is: 'c1' }],
    },
  };
  const named = referencesIn(jobDocumentSchema.partial(), { piece });
  expect(named).toContainEqual({ thing: 'document', id: 3, columns: [] });
  expect(named).toContainEqual({ thing: 'list', id: 9, columns: ['c1', 'c5'] });
  const pdfs = { ...piece, ground: { kind: 'pdfs', set: 4, name: 'x', knownBy: 'name', column: 'c1', said: [], stamp: 's', sizeMm: 20, corner: 'top left', acrossMm: 1, downMm: 1, pages: 'all' } }; // prettier-ignore
  expect(referencesIn(jobDocumentSchema.partial(), { piece: pdfs })).toEqual([
    { thing: 'document set', id: 4, columns: [] },
  ]);
});

test('what is held allows as much as it reads, and no other column', () => {
  const held = [{ thing: 'list' as const, id: 9, columns: ['c1', 'c5'] }];
  expect(isHeld({ thing: 'list', id: 9, columns: ['c5'] }, held)).toBe(true);
  expect(isHeld({ thing: 'list', id: 9, columns: ['c5', 'c6'] }, held)).toBe(false);
  expect(isHeld({ thing: 'list', id: 8, columns: [] }, held)).toBe(false);
});

/** Fields of these names are numbers of something that has rights of its own. */
const things = /^(list|document|set)$/;
/** Named so, and no number of a thing: why. */
const others: Record<string, string> = {
  'changeJob.document.piece.ground.said.document': 'counts only where it is of the set itself',
};

/** Positions in a schema of numbers that are not declared as references. */
function undeclared(schema: z.ZodType, path: string, inside: boolean): string[] {
  const { def } = schema as unknown as {
    def: Record<string, unknown> & { type: string; shape?: Record<string, z.ZodType> };
  };
  const declared = inside || declaresReferences(schema);
  const inner = [def.element, def.innerType, def.valueType, def.in, def.out, def.left, def.right]
    .concat(def.options ?? [], def.items ?? [])
    .filter((one): one is z.ZodType => one instanceof z.ZodType);
  return [
    ...Object.entries(def.shape ?? {}).flatMap(([key, of]) =>
      things.test(key) && z.safeParse(of, 5).success
        ? declared || declaresReferences(of) || others[`${path}.${key}`]
          ? []
          : [`${path}.${key}`]
        : undeclared(of, `${path}.${key}`, declared),
    ),
    ...inner.flatMap((of) => undeclared(of, path, declared)),
  ];
}

test('every number of a list, document or set in what people send is declared', () => {
  // a route that needs the right to change everything may name anything
  const shared = contract.allRoutes.filter(
    ([, route]) => route.body && route.of !== undefined && !route.path.startsWith('/api/v1/'),
  );
  expect(shared.length).toBeGreaterThan(30);
  expect(shared.flatMap(([name, { body }]) => undeclared(body!, name, false))).toEqual([]);
  // and the search for them finds one that is not
  const forgotten = z.object({ where: z.array(z.object({ list: z.number() })) });
  expect(undeclared(forgotten, 'x', false)).toEqual(['x.where.list']);
});

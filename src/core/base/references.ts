import * as z from 'zod';

/** The kinds of things that a stored document can refer to by number. */
export type ReferredThing = 'list' | 'document' | 'document set';

/** A reference by number inside a user's input. */
export interface Reference {
  thing: ReferredThing;
  id: number;
  /** Of a list: the columns that are read in it, by their ids. */
  columns: readonly string[];
}

type Reads = (value: unknown) => readonly Omit<Reference, 'thing'>[];
interface Declared {
  thing: ReferredThing;
  reads: Reads;
}
const declared = z.registry<Declared>();

/**
 * Declares that values of a schema refer to something. To send such a value, a person needs the
 * right to read what it names and, if a secret column is read, the right to edit it. The gate
 * checks that wherever the schema is part of a request.
 * @param reads the number that a value names; by default the value itself
 */
export function refersTo<S extends z.ZodType>(
  thing: ReferredThing,
  schema: S,
  reads?: (value: z.output<S>) => readonly Omit<Reference, 'thing'>[],
): S {
  const own = (reads as Reads | undefined) ?? ((value) => [{ id: Number(value), columns: [] }]);
  declared.add(schema, { thing, reads: own });
  return schema;
}

/** Whether a schema itself says what its values refer to. */
export const declaresReferences = (schema: z.ZodType): boolean => declared.has(schema);

/** The schemas inside a schema, with the part of a value that each is for. */
function parts(schema: z.ZodType, value: unknown): [z.ZodType, unknown][] {
  const { def } = schema as unknown as { def: Def };
  switch (def.type) {
    case 'object': {
      const own = (value ?? {}) as Record<string, unknown>;
      return Object.entries(def.shape).map(([key, of]) => [of, own[key]]);
    }
    case 'array':
      return (Array.isArray(value) ? value : [undefined]).map((one) => [def.element, one]);
    case 'record':
      return (value ? Object.values(value) : [undefined]).map((one) => [def.valueType, one]);
    case 'tuple':
      return def.items.map((of, i) => [of, (value as unknown[] | undefined)?.[i]]);
    case 'union':
      return def.options
        .filter((of) => value === undefined || of.safeParse(value).success)
        .map((of) => [of, value]);
    case 'intersection':
      return [
        [def.left, value],
        [def.right, value],
      ];
    case 'pipe':
      return [
        [def.in, value],
        [def.out, value],
      ];
    case 'lazy':
      return [[def.getter(), value]];
    case 'optional':
    case 'nullable':
    case 'default':
      return [[def.innerType, value]];
    default:
      return [];
  }
}
type Def =
  | { type: 'object'; shape: Record<string, z.ZodType> }
  | { type: 'array'; element: z.ZodType }
  | { type: 'record'; valueType: z.ZodType }
  | { type: 'tuple'; items: z.ZodType[] }
  | { type: 'union'; options: z.ZodType[] }
  | { type: 'intersection'; left: z.ZodType; right: z.ZodType }
  | { type: 'pipe'; in: z.ZodType; out: z.ZodType }
  | { type: 'lazy'; getter: () => z.ZodType }
  | { type: 'optional' | 'nullable' | 'default'; innerType: z.ZodType };

const refers = new WeakMap<z.ZodType, boolean>();
/** Whether a schema has a reference anywhere in it. */
export function hasReferences(schema: z.ZodType): boolean {
  const known = refers.get(schema);
  if (known !== undefined) return known;
  // a schema that contains itself is visited once
  refers.set(schema, false);
  const has =
    declared.has(schema) || parts(schema, undefined).some(([inner]) => hasReferences(inner));
  refers.set(schema, has);
  return has;
}

/** Everything that a value of a schema refers to. */
export function referencesIn(schema: z.ZodType, value: unknown): Reference[] {
  if (value === undefined || value === null || !hasReferences(schema)) return [];
  const own = declared.get(schema);
  return [
    ...(own ? own.reads(value).map((one) => ({ ...one, thing: own.thing })) : []),
    ...parts(schema, value).flatMap(([inner, part]) => referencesIn(inner, part)),
  ];
}

/** Whether a reference is among others, with every column that it reads. */
export const isHeld = (reference: Reference, held: readonly Reference[]): boolean =>
  held.some(
    (one) =>
      one.thing === reference.thing &&
      one.id === reference.id &&
      reference.columns.every((column) => one.columns.includes(column)),
  );

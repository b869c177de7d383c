import type * as z from 'zod';

/**
 * A field of a value that its schema does not know, as `look.colour`; undefined if there is none.
 * An unknown field is more often a slip than meant: `record` for `records` would mean all of them.
 * @param value as it came, and valid for the schema
 */
export function unknownField(schema: z.ZodType, value: unknown, path = ''): string | undefined {
  if (typeof value !== 'object' || value === null) return undefined;
  const { def } = schema as unknown as { def: Def };
  switch (def.type) {
    case 'object': {
      const within = (key: string) => (path ? `${path}.${key}` : key);
      for (const [key, part] of Object.entries(value)) {
        // a name that every object has, such as `constructor`, is not a field
        const of = Object.hasOwn(def.shape, key) ? def.shape[key] : def.catchall;
        if (!of) return within(key);
        const unknown = unknownField(of, part, within(key));
        if (unknown !== undefined) return unknown;
      }
      return undefined;
    }
    case 'array':
      return firstOf(value, (part, i) => unknownField(def.element, part, `${path}[${i}]`));
    case 'tuple':
      return firstOf(value, (part, i) =>
        def.items[Number(i)]
          ? unknownField(def.items[Number(i)]!, part, `${path}[${i}]`)
          : undefined,
      );
    case 'record':
      return firstOf(value, (part, key) => unknownField(def.valueType, part, `${path}.${key}`));
    case 'union': {
      // known if one of the matching schemas knows all of it
      const taking = def.options.filter((of) => of.safeParse(value).success);
      const unknown = taking.map((of) => unknownField(of, value, path));
      return unknown.some((one) => one === undefined) ? undefined : unknown[0];
    }
    case 'pipe':
      return unknownField(def.in, value, path);
    case 'lazy':
      return unknownField(def.getter(), value, path);
    case 'optional':
    case 'nullable':
    case 'default':
    case 'prefault':
    case 'readonly':
    case 'catch':
    case 'nonoptional':
      return unknownField(def.innerType, value, path);
    default:
      // an intersection knows what either half knows, so neither can be asked alone
      return undefined;
  }
}

function firstOf(
  value: object,
  find: (part: unknown, key: string) => string | undefined,
): string | undefined {
  for (const [key, part] of Object.entries(value)) {
    const found = find(part, key);
    if (found !== undefined) return found;
  }
  return undefined;
}

type Def =
  | { type: 'object'; shape: Record<string, z.ZodType | undefined>; catchall?: z.ZodType }
  | { type: 'array'; element: z.ZodType }
  | { type: 'record'; valueType: z.ZodType }
  | { type: 'tuple'; items: readonly z.ZodType[] }
  | { type: 'union'; options: readonly z.ZodType[] }
  | { type: 'pipe'; in: z.ZodType }
  | { type: 'lazy'; getter: () => z.ZodType }
  | {
      type: 'optional' | 'nullable' | 'default' | 'prefault' | 'readonly' | 'catch' | 'nonoptional';
      innerType: z.ZodType;
    };

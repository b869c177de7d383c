import * as z from 'zod';
import { looksLikeEmail } from '../base/email';
import { checkDigitFits } from '../base/check-digit';
import { beginningOf } from './beginnings';
import { sourcesOf, workedSchema } from './worked';

/** The role of a column. The key identifies records; the title is what people call them. */
export const columnRoles = [
  'key',
  'name',
  'email',
  'address',
  'product',
  'picture',
  'file',
  'text',
] as const;
export type ColumnRole = (typeof columnRoles)[number];

export const roleWords: Record<ColumnRole, string> = {
  key: 'key (unique)',
  name: 'title',
  email: 'an email address',
  address: 'a web address',
  product: 'a product number',
  picture: 'a picture',
  file: 'a file name',
  text: 'plain text',
};

export const columnSchema = z.object({
  id: z.string(),
  name: z.string(),
  role: z.enum(columnRoles),
  /** How it is calculated from others; such a column cannot be typed over. */
  worked: workedSchema.optional(),
  /** Not shown and not checked; kept for what is made from it. */
  hidden: z.boolean().optional(),
  /** Heading in the source, if the column has another name here. */
  source: z.string().optional(),
  /**
   * Secret: masked on the screen, never printed next to the code, left out of downloads. Not set
   * for random values and proofs, which are secret anyway.
   */
  secret: z.boolean().optional(),
  /**
   * It looks something up in a secret column of another list. Kept up to date by the server, which
   * knows the other list.
   */
  looksUpSecret: z.literal(true).optional(),
});
export type Column = z.infer<typeof columnSchema>;

/** Values of a record by column id, exactly as they came. */
export type Values = Readonly<Record<string, string>>;

export interface ListRecord {
  id: string;
  position: number;
  values: Values;
}

const keyNames = /\b(no|nr|id|key|code|number|ref|reference|tag|sku|accession)\b/i;
const titleNames = /\b(name|title|item|plant|description|who|person|workshop|variety|agreement)\b/i;
/** Headings of secret values. */
export const secretHeadings = /\b(token|secret|password|passcode|pass ?key|pin)\b/i;
const productNames = /\b(gtin|ean|upc|barcode|product (no|number))\b/i;

/**
 * Suggests the role of each column, from its heading and a sample of its values. One key and one
 * title at most.
 */
export function suggestRoles(
  headings: readonly string[],
  rows: readonly (readonly string[])[],
): ColumnRole[] {
  const samples = headings.map((_, c) =>
    rows.map((row) => row[c] ?? '').filter((value) => value.trim() !== ''),
  );
  const roles: ColumnRole[] = headings.map((heading, c) => {
    const share = (test: { test(text: string): boolean }) =>
      samples[c]!.length
        ? samples[c]!.filter((v) => test.test(v.trim())).length / samples[c]!.length
        : 0;
    if (share({ test: looksLikeEmail }) > 0.7) return 'email';
    if (share(/^(https?:\/\/|www\.)\S+$/i) > 0.7) return 'address';
    const numbers = samples[c]!.filter(
      (v) => /^(\d{8}|\d{12,14})$/.test(v.trim()) && checkDigitFits(v.trim()),
    );
    if (share(/\.(png|jpe?g|svg|webp|gif)$/i) > 0.7) return 'picture';
    if (share(/^[^\\/:*?"<>|]+\.[a-z0-9]{2,4}$/i) > 0.7 && share(/^\d+\.\d+$/) < 0.3) return 'file';
    if (productNames.test(heading) || numbers.length > samples[c]!.length * 0.8) return 'product';
    return 'text';
  });
  const distinct = (c: number) =>
    samples[c]!.length ? new Set(samples[c]).size / samples[c]!.length : 0;
  const isKey = (c: number) => distinct(c) > 0.9 && samples[c]!.every((v) => v.length <= 40);
  const key =
    pick(headings, (h, c) => keyNames.test(h) && roles[c] === 'text' && isKey(c)) ??
    (roles.includes('product')
      ? undefined
      : pick(
          headings,
          (_, c) => roles[c] === 'text' && /\d/.test(samples[c]![0] ?? '') && isKey(c),
        ));
  if (key !== undefined) roles[key] = 'key';
  // a few values that repeat, such as Mr and Dr under “Title”, do not identify a record
  const tells = (h: string, c: number) =>
    !/^\W*title\W*$/i.test(h) || samples[c]!.length < 4 || distinct(c) > 0.3;
  const name =
    pick(headings, (h, c) => titleNames.test(h) && roles[c] === 'text' && tells(h, c)) ??
    mostTelling(
      headings.flatMap((_, c) =>
        roles[c] === 'text' ? [{ c, telling: tellingOf(samples[c]!, distinct(c)) }] : [],
      ),
    );
  if (name !== undefined) roles[name] = 'name';
  return roles;
}

/**
 * How well the values of a column would do as titles: words of a readable length, different from
 * one another; 0 if there are no words.
 */
function tellingOf(values: readonly string[], distinct: number): number {
  if (values.length === 0) return 0;
  const words =
    values.filter((v) => /\p{L}{2}/u.test(v) && !/^\S*\d\S*$/.test(v.trim())).length /
    values.length;
  const length = values.reduce((sum, v) => sum + v.trim().length, 0) / values.length;
  const readable = length < 3 ? 0.2 : length <= 40 ? 1 : Math.max(0.1, 40 / length);
  return words < 0.5 ? 0 : words * readable * (0.3 + distinct);
}

function mostTelling(columns: readonly { c: number; telling: number }[]): number | undefined {
  const best = columns.reduce((a, b) => (b.telling > a.telling ? b : a), { c: -1, telling: 0 });
  return best.telling > 0 ? best.c : undefined;
}

/**
 * Whether a column is secret: random values, proofs, what a person marked as secret, and everything
 * calculated from these. The person's choice for the column itself goes before all that.
 */
export function isSecret(
  column: Column,
  columns: readonly Column[],
  above: readonly string[] = [],
): boolean {
  if (column.secret !== undefined) return column.secret;
  if (!column.worked || above.includes(column.id)) return false;
  if (column.looksUpSecret) return true;
  const { source } = column.worked;
  const said = beginningOf(source).secret?.(source);
  if (said !== undefined) return said;
  return sourcesOf(column.worked).some((id) => {
    const source = columns.find((c) => c.id === id);
    return source !== undefined && isSecret(source, columns, [...above, column.id]);
  });
}

/** The secret ones among columns. */
export const secretsOf = (columns: readonly Column[]): Column[] =>
  columns.filter((column) => isSecret(column, columns));

function pick(
  headings: readonly string[],
  test: (heading: string, c: number) => boolean,
): number | undefined {
  const at = headings.findIndex(test);
  return at < 0 ? undefined : at;
}

/** The column that identifies records: the key, or a product number if there is no key. */
export const keyColumn = (columns: readonly Column[]): Column | undefined =>
  columns.find((c) => c.role === 'key') ?? columns.find((c) => c.role === 'product');
export const nameColumn = (columns: readonly Column[]): Column | undefined =>
  columns.find((c) => c.role === 'name');

/**
 * The column that names a record on screen: its title, else its key, else its first; never a secret
 * one.
 */
export const titleColumn = (columns: readonly Column[]): Column | undefined =>
  [nameColumn(columns), keyColumn(columns), ...columns].find(
    (c): c is Column => c !== undefined && !isSecret(c, columns),
  );

/** The key, if it is not secret. */
export function openKeyColumn(columns: readonly Column[]): Column | undefined {
  const key = keyColumn(columns);
  return key && !isSecret(key, columns) ? key : undefined;
}

/**
 * Makes headings usable as column names: blank ones are named by their position, repeated ones get
 * a number.
 */
export function tidyHeadings(headings: readonly string[]): { names: string[]; notes: string[] } {
  const taken = new Set<string>();
  const notes: string[] = [];
  const names = headings.map((raw, i) => {
    const clean = raw.replace(/\s+/g, ' ').trim();
    const base = clean || `Column ${i + 1}`;
    if (!clean) notes.push(`Column ${i + 1} has no heading; it is called “${base}”.`);
    let name = base;
    for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${base} (${n})`;
    if (clean && name !== base)
      notes.push(`The heading “${base}” comes more than once; the later one is called “${name}”.`);
    taken.add(name.toLowerCase());
    return name;
  });
  return { names, notes };
}

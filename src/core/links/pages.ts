import * as z from 'zod';
import { isSecret, keyColumn, nameColumn, type Column, type Values } from '../records/columns';
import { saidOf, partSchema } from '../records/parts';

/** Who sees a column on a page: anyone, or people signed in who may look at the list. */
const pageEyes = ['anyone', 'signed-in'] as const;
export type PageEyes = (typeof pageEyes)[number];

/** What the record pages of a list show. */
export const pageSetSchema = z.object({
  /** Closed pages say so, and show nothing. */
  open: z.boolean(),
  title: z.array(partSchema).max(20),
  /** Column that names a picture of the list. */
  picture: z.string().max(40).nullable(),
  shown: z.array(z.object({ column: z.string().max(40), who: z.enum(pageEyes) })).max(200),
  /** Stamp whose code is on the page. */
  stamp: z.string().max(40).nullable(),
});
export type PageSetDocument = z.infer<typeof pageSetSchema>;

/** Columns that a page may show: never secret or hidden ones. */
export const showable = (columns: readonly Column[]): Column[] =>
  columns.filter((c) => !c.hidden && !isSecret(c, columns));

/** What pages show by default: the title, and the rest only to people who are signed in. */
export function firstPages(columns: readonly Column[]): PageSetDocument {
  const name = nameColumn(columns) ?? keyColumn(columns) ?? columns[0];
  const plain = showable(columns).filter(
    (c) => !c.worked && c.id !== name?.id && c.role !== 'picture' && c.role !== 'address',
  );
  return {
    open: true,
    title: name ? [{ kind: 'column', column: name.id }] : [],
    picture: columns.find((c) => c.role === 'picture')?.id ?? null,
    shown: plain.map((c) => ({ column: c.id, who: 'signed-in' })),
    stamp: null,
  };
}

/**
 * What a page shows of a record to a visitor; blanks are left out. Columns that became secret since
 * are not shown.
 */
export function pageOf(
  { title, shown, picture }: PageSetDocument,
  columns: readonly Column[],
  values: Values,
  eyes: PageEyes,
): { title: string; lines: { name: string; value: string }[]; picture: string | undefined } {
  const may = new Map(showable(columns).map((c) => [c.id, c]));
  const safe = title.filter((part) => part.kind === 'text' || may.has(part.column));
  return {
    title: saidOf(safe, values, {}).text.trim(),
    lines: shown.flatMap(({ column, who }) => {
      const of = may.get(column);
      const value = (values[column] ?? '').trim();
      return of && value !== '' && (who === 'anyone' || eyes === 'signed-in')
        ? [{ name: of.name, value }]
        : [];
    }),
    picture:
      picture !== null && may.has(picture)
        ? (values[picture] ?? '').trim() || undefined
        : undefined,
  };
}

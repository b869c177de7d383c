import * as z from 'zod';
import type { Column } from '../records/columns';
import { lookSchema, stampSchema, type Part, type Stamp } from './stamp';

/** The content of a stamp, saved for other lists: its columns by name. */
export const keptContentSchema = z.object({
  does: stampSchema.shape.does,
  parts: stampSchema.shape.parts,
  fields: stampSchema.shape.fields,
  spaces: stampSchema.shape.spaces,
  columns: z.record(z.string(), z.object({ name: z.string(), role: z.string() })),
});
export type KeptContent = z.infer<typeof keptContentSchema>;

export const keptLookSchema = lookSchema;

const allParts = ({ parts, fields }: Pick<Stamp, 'parts' | 'fields'>): Part[] =>
  [parts, ...Object.values(fields ?? {})].flat();

export function keepContent(
  { does, parts, fields, spaces }: Stamp,
  columns: readonly Column[],
): KeptContent {
  const used = allParts({ parts, fields }).flatMap((p) =>
    p.kind === 'column' ? (columns.find((c) => c.id === p.column) ?? []) : [],
  );
  return {
    does,
    parts,
    fields,
    spaces,
    columns: Object.fromEntries(used.map(({ id, name, role }) => [id, { name, role }])),
  };
}

/**
 * A kept content with the columns of another list: the one of the same name, else the only one of
 * the same kind.
 * @returns the stamp's part of it, and the names of columns for which there is none
 */
export function useContent(
  kept: KeptContent,
  columns: readonly Column[],
): { content: Pick<Stamp, 'does' | 'parts' | 'fields' | 'spaces'>; missing: string[] } {
  const missing = new Set<string>();
  const swap = (part: Part): Part[] => {
    if (part.kind === 'text') return [part];
    const was = kept.columns[part.column];
    const byName = columns.find((c) => c.name.toLowerCase() === was?.name.toLowerCase());
    const byRole = was && was.role !== 'text' ? columns.filter((c) => c.role === was.role) : [];
    const column = byName ?? (byRole.length === 1 ? byRole[0] : undefined);
    if (column) return [{ kind: 'column', column: column.id }];
    missing.add(was?.name ?? 'a deleted column');
    return [];
  };
  return {
    content: {
      does: kept.does,
      spaces: kept.spaces,
      parts: kept.parts.flatMap(swap),
      ...(kept.fields
        ? {
            fields: Object.fromEntries(
              Object.entries(kept.fields).map(([id, parts]) => [id, parts.flatMap(swap)]),
            ),
          }
        : {}),
    },
    missing: [...missing],
  };
}

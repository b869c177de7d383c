import * as z from 'zod';
import { problemKinds } from '../core/records/problems';

/** Parts that many routes share. */
export const number = z.coerce
  .number()
  .int()
  .min(1)
  .max(2 ** 31 - 1);
export const byId = z.object({ id: number });
export const ok = z.strictObject({ ok: z.literal(true) });
/** Answer of a route that only reports success. */
export const done = { ok: true } as const;
export const newId = z.strictObject({ id: z.number() });

/** When, in ISO 8601. */
export const when = z.iso.datetime();
export const valuesSchema = z.record(z.string(), z.string()).readonly();
export const markSchema = z.enum(['ready', 'look', 'out']);
export const problemKindSchema = z.enum(problemKinds);
export const directionSchema = z.object({ direction: z.enum(['undo', 'redo']) });
export const fileSchema = z.strictObject({ id: z.number(), name: z.string(), size: z.number() });

/** How many records a change added, changed and removed. */
export const revisionCountsSchema = z.strictObject({
  added: z.number(),
  changed: z.number(),
  gone: z.number(),
});
export type RevisionCounts = z.infer<typeof revisionCountsSchema>;

/** One record in an account of changes: old and new values, cell by cell. */
export const changedRowSchema = z.strictObject({
  seq: z.number(),
  change: z.enum(['added', 'changed', 'gone']),
  title: z.string(),
  key: z.string(),
  cells: z.array(
    z.strictObject({
      column: z.string(),
      before: z.string(),
      after: z.string(),
      clash: z.boolean().optional(),
    }),
  ),
});
export type ChangedRow = z.infer<typeof changedRowSchema>;

/** A name that a person enters. */
export const nameOf = (what: string, most = 120) =>
  z.string().trim().min(1, `Enter a name for ${what}.`).max(most);

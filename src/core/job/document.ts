import { z } from 'zod';
import { stampSchema } from '../payload/stamp';
import { pieceSchema } from '../piece/piece';
import { columnSchema } from '../records/columns';
import { runOptionsSchema } from '../run/plan';

/** A job as it is worked on: the stamps of its list, its own piece, and how it runs. Kept whole, version by version. */
export const jobDocumentSchema = z.object({
  stamps: z.array(stampSchema).max(8),
  piece: pieceSchema,
  options: runOptionsSchema,
});
export type JobDocument = z.infer<typeof jobDocumentSchema>;
/** What a job keeps itself: the stamps stand with the list. */
export type StoredDocument = Omit<JobDocument, 'stamps'>;

export const frozenRunSchema = jobDocumentSchema.extend({
  columns: z.array(columnSchema),
  jobVersion: z.number(),
  listRevision: z.number(),
  date: z.string(),
});
export type FrozenRun = z.infer<typeof frozenRunSchema>;

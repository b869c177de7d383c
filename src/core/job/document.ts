import { z } from 'zod';
import { stampSchema } from '../payload/stamp';
import { pieceSchema } from '../piece/piece';
import { columnSchema } from '../records/columns';
import { runOptionsSchema } from '../run/plan';

/** A job's own decisions: its stamps, its piece and how it runs. Kept whole, version by version. */
export const jobDocumentSchema = z.object({
  stamps: z.array(stampSchema).max(8),
  piece: pieceSchema,
  options: runOptionsSchema,
});
export type JobDocument = z.infer<typeof jobDocumentSchema>;

export const frozenRunSchema = jobDocumentSchema.extend({
  columns: z.array(columnSchema),
  jobVersion: z.number(),
  listRevision: z.number(),
  date: z.string(),
});
export type FrozenRun = z.infer<typeof frozenRunSchema>;

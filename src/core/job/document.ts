import * as z from 'zod';
import { mailSchema } from '../mail/mail';
import { stampSchema } from '../payload/stamp';
import { pieceSchema } from '../piece/piece';
import { columnSchema } from '../records/columns';
import { outputSchema } from '../run/outputs';
import { runOptionsSchema } from '../run/plan';

/**
 * A job as it is worked on: the stamps of its list, its own piece, and how it runs. Kept whole,
 * version by version.
 */
export const jobDocumentSchema = z.object({
  stamps: z.array(stampSchema).max(8),
  piece: pieceSchema,
  options: runOptionsSchema,
  /** The mail that each person gets, once somebody wrote it. */
  mail: mailSchema.optional(),
});
export type JobDocument = z.infer<typeof jobDocumentSchema>;
/** What a job keeps itself: the stamps stand with the list. */
export type StoredDocument = Omit<JobDocument, 'stamps'>;

export const frozenRunSchema = jobDocumentSchema.extend({
  columns: z.array(columnSchema),
  jobVersion: z.number(),
  listRevision: z.number(),
  date: z.string(),
  /**
   * Name of the run that was made first of this: it stands in its files, which are the same bytes
   * when they are made again.
   */
  title: z.string().optional(),
  output: outputSchema.optional(),
  /** Shift of everything on the page, for the printer it was made for, in mm. */
  offset: z.object({ x: z.number(), y: z.number() }).optional(),
  printer: z.number().optional(),
  /** Who the mails come from. */
  sender: z.object({ name: z.string(), address: z.string() }).optional(),
  /** The run of which this one prints pieces again. */
  again: z.number().optional(),
});
export type FrozenRun = z.infer<typeof frozenRunSchema>;

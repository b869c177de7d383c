import * as z from 'zod';
import { readStored, type Stored, type StoredShape, writeStored } from '../base/stored';
import { mailSchema } from '../mail/mail';
import { stampSchema } from '../payload/stamp';
import { pieceSchema } from '../piece/model';
import { columnSchema } from '../records/columns';
import { outputSchema } from '../run/outputs';
import { defaultRunOptions, runOptionsSchema } from '../run/plan';

/**
 * A job as it is worked on: the stamps of its list, its own piece, and how it runs. Kept whole,
 * version by version.
 */
export const jobDocumentSchema = z.object({
  stamps: z.array(stampSchema).max(8),
  piece: pieceSchema,
  options: runOptionsSchema,
  /** The email for each person, once it was written. */
  mail: mailSchema.optional(),
});
export type JobDocument = z.infer<typeof jobDocumentSchema>;
/** The contents of a job: the stamps are stored with the list. */
export type StoredDocument = Omit<JobDocument, 'stamps'>;

const storedJob: StoredShape<StoredDocument> = {
  name: 'the job',
  schema: jobDocumentSchema.omit({ stamps: true }),
  steps: [
    // the first jobs did not say how they run
    (document) => ({ options: defaultRunOptions, ...document }),
  ],
};
/** A version of a job, with the stamps of its list at that time. */
const storedVersion: StoredShape<JobDocument> = {
  name: 'that version of the job',
  schema: jobDocumentSchema,
  steps: storedJob.steps,
};

/** @throws StoredError, as the two below */
export const readJob = (stored: Stored<StoredDocument>): StoredDocument =>
  readStored(storedJob, stored);
export const readVersion = (stored: Stored<JobDocument>): JobDocument =>
  readStored(storedVersion, stored);
export const writeJob = (document: StoredDocument): string => writeStored(storedJob, document);
export const writeVersion = (document: JobDocument): string => writeStored(storedVersion, document);

const frozenRunSchema = jobDocumentSchema.extend({
  columns: z.array(columnSchema),
  jobVersion: z.number(),
  listRevision: z.number(),
  date: z.string(),
  /**
   * Name of the first run of this: it is in its files, which get the same bytes when they are made
   * again.
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

const storedRun: StoredShape<FrozenRun> = {
  name: 'the run',
  schema: frozenRunSchema,
  steps: [],
};
/** @throws StoredError */
export const readRun = (stored: Stored<FrozenRun>): FrozenRun => readStored(storedRun, stored);
export const writeRun = (frozen: FrozenRun): string => writeStored(storedRun, frozen);

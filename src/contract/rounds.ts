import * as z from 'zod';
import { roundAnswers, roundOutcomeSchema } from '../core/checkpoint/round';
import { scanWays } from './checkpoints';
import { byId, nameOf, newId, number, ok, when } from './common';
import { defineRoute } from './route';

const roundRowSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  list: z.string(),
  by: z.string(),
  begun: when,
  closed: when.nullable(),
  seen: z.number(),
  of: z.number(),
});
export type RoundRow = z.infer<typeof roundRowSchema>;

export const roundScanSchema = z.strictObject({
  id: z.number(),
  key: z.string(),
  at: when,
  who: z.string(),
  place: z.string(),
  answer: z.enum(roundAnswers),
  why: z.string(),
  record: z.number().nullable(),
  title: z.string(),
  recordKey: z.string(),
  belongs: z.string().nullable(),
  text: z.string().nullable(),
  done: z.enum(['moved', 'made']).nullable(),
});
export type RoundScan = z.infer<typeof roundScanSchema>;

export const roundViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  list: z.strictObject({ id: z.number(), name: z.string(), job: z.number().nullable() }),
  column: z.string(),
  begun: when,
  closed: when.nullable(),
  places: z.array(z.strictObject({ place: z.string(), of: z.number(), seen: z.number() })),
  seen: z.number(),
  of: z.number(),
  tape: z.array(roundScanSchema),
  /** Earlier closed rounds of the same list. */
  before: z.array(z.strictObject({ id: z.number(), name: z.string() })),
});
export type RoundView = z.infer<typeof roundViewSchema>;

const lineSchema = z.strictObject({
  record: z.number().nullable(),
  title: z.string(),
  key: z.string(),
  place: z.string(),
  seenAt: z.string().nullable(),
  outcome: roundOutcomeSchema,
});

export const listRounds = defineRoute({
  method: 'GET',
  path: '/api/rounds',
  right: 'scanner',
  about: 'The rounds, with how much was found.',
  answer: z.strictObject({ rounds: z.array(roundRowSchema) }),
});
export const startRound = defineRoute({
  method: 'POST',
  path: '/api/rounds',
  right: 'editor',
  about: 'Starts a round of a list, one location after the other.',
  body: z.object({ name: nameOf('the round'), list: number, column: z.string().max(40) }),
  answer: newId,
});
export const viewRound = defineRoute({
  method: 'GET',
  path: '/api/rounds/{id}',
  right: 'scanner',
  about: 'A round: its locations, what was found in each, and its tape.',
  params: byId,
  answer: roundViewSchema,
});
export const unseenOnRound = defineRoute({
  method: 'GET',
  path: '/api/rounds/{id}/unseen',
  right: 'scanner',
  about: 'What was not found yet at a location.',
  params: byId,
  query: z.object({ place: z.string().max(300) }),
  answer: z.strictObject({
    unseen: z.array(z.strictObject({ record: z.number(), title: z.string(), key: z.string() })),
    of: z.number(),
  }),
});
export const scanOnRound = defineRoute({
  method: 'POST',
  path: '/api/rounds/{id}/scans',
  right: 'scanner',
  tape: true,
  about:
    'Answers what was scanned at a location and saves it; a scan that is sent twice is saved once.',
  params: byId,
  body: z
    .object({
      key: z.uuid(),
      how: z.enum(scanWays),
      place: z.string().trim().min(1, 'Choose a location first.').max(300),
      text: z.string().min(1).max(4000).optional(),
      record: number.optional(),
    })
    .refine((scan) => (scan.text === undefined) !== (scan.record === undefined), {
      message: 'A scan needs a code, or a record chosen by hand.',
    }),
  answer: roundScanSchema,
});
export const settleOnRound = defineRoute({
  method: 'POST',
  path: '/api/rounds/{id}/settle',
  right: 'editor',
  about:
    'Moves what was found elsewhere to where it was found, or adds an unknown thing as a record.',
  params: byId,
  body: z.object({
    scan: z.uuid(),
    does: z.enum(['move', 'make']),
    /** The title of a new record. */
    title: z.string().trim().max(300).optional(),
  }),
  answer: roundScanSchema,
});
export const closeRound = defineRoute({
  method: 'POST',
  path: '/api/rounds/{id}/close',
  right: 'editor',
  about: 'Closes a round: the result of each record is saved as it is now.',
  params: byId,
  answer: ok,
});
export const roundReport = defineRoute({
  method: 'GET',
  path: '/api/rounds/{id}/report',
  right: 'viewer',
  about: 'The result of a closed round, and what differs from an earlier one.',
  params: byId,
  query: z.object({ before: number.optional() }),
  answer: z.strictObject({
    counts: z.record(roundOutcomeSchema, z.number()),
    lines: z.array(lineSchema),
    compared: z
      .strictObject({
        name: z.string(),
        back: z.array(lineSchema),
        still: z.array(lineSchema),
        anew: z.array(lineSchema),
      })
      .nullable(),
  }),
});
export const roundFile = defineRoute({
  method: 'GET',
  path: '/api/rounds/{id}/file',
  right: 'viewer',
  about: 'The report of a closed round as a workbook or as a PDF.',
  params: byId,
  query: z.object({ as: z.enum(['xlsx', 'pdf']).default('xlsx') }),
  answer: {
    files: ['application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', 'application/pdf'],
  },
});
export const roundNews = defineRoute({
  method: 'GET',
  path: '/api/rounds/{id}/news',
  right: 'scanner',
  news: true,
  about: 'News when something is found (server-sent events).',
  params: byId,
  answer: { files: ['text/event-stream'] },
});
export const removeRound = defineRoute({
  method: 'DELETE',
  path: '/api/rounds/{id}',
  right: 'editor',
  about: 'Deletes a round with its tape and its report.',
  params: byId,
  answer: ok,
});

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
  /** Rounds of the same list that were closed before it. */
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
  about: 'The rounds, with how much was seen.',
  answer: z.strictObject({ rounds: z.array(roundRowSchema) }),
});
export const startRound = defineRoute({
  method: 'POST',
  path: '/api/rounds',
  right: 'editor',
  about: 'Starts a round of a list, place after place.',
  body: z.object({ name: nameOf('the round'), list: number, column: z.string().max(40) }),
  answer: newId,
});
export const viewRound = defineRoute({
  method: 'GET',
  path: '/api/rounds/{id}',
  right: 'scanner',
  about: 'A round: its places, what was seen in each, and its tape.',
  params: byId,
  answer: roundViewSchema,
});
export const unseenOnRound = defineRoute({
  method: 'GET',
  path: '/api/rounds/{id}/unseen',
  right: 'scanner',
  about: 'What has not been seen yet at a place.',
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
  about: 'Answers what was seen at a place and keeps it; what is sent twice is kept once.',
  params: byId,
  body: z
    .object({
      key: z.uuid(),
      how: z.enum(scanWays),
      place: z.string().trim().min(1, 'Choose a place first.').max(300),
      text: z.string().min(1).max(4000).optional(),
      record: number.optional(),
    })
    .refine((scan) => (scan.text === undefined) !== (scan.record === undefined), {
      message: 'A scan is of a code, or of a record chosen by hand.',
    }),
  answer: roundScanSchema,
});
export const settleOnRound = defineRoute({
  method: 'POST',
  path: '/api/rounds/{id}/settle',
  right: 'editor',
  about:
    'Moves what was seen elsewhere to where it was seen, or makes a record of what is unknown.',
  params: byId,
  body: z.object({
    scan: z.uuid(),
    does: z.enum(['move', 'make']),
    /** What a record that is made is called. */
    title: z.string().trim().max(300).optional(),
  }),
  answer: roundScanSchema,
});
export const closeRound = defineRoute({
  method: 'POST',
  path: '/api/rounds/{id}/close',
  right: 'editor',
  about: 'Closes a round: how each record came out of it is kept as it is now.',
  params: byId,
  answer: ok,
});
export const roundReport = defineRoute({
  method: 'GET',
  path: '/api/rounds/{id}/report',
  right: 'viewer',
  about: 'How a closed round came out, and what is other than on an earlier one.',
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
  about: 'Tells as it happens that something was seen (server-sent events).',
  params: byId,
  answer: { files: ['text/event-stream'] },
});
export const removeRound = defineRoute({
  method: 'DELETE',
  path: '/api/rounds/{id}',
  right: 'editor',
  about: 'Throws a round away with its tape and its report.',
  params: byId,
  answer: ok,
});

import * as z from 'zod';
import { answers } from '../core/checkpoint/answer';
import { byOneselfSchema } from '../core/checkpoint/by-oneself';
import { packSchema } from '../core/checkpoint/offline';
import { ruleSchema } from '../core/checkpoint/rule';
import { columnSchema } from '../core/records/columns';
import { byId, nameOf, newId, number, ok, when } from './common';
import { defineRoute } from './route';

const answerSchema = z.enum(answers);
export const scanWays = ['camera', 'reader', 'picture', 'hand'] as const;

export const checkpointRowSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  lists: z.array(z.string()),
  session: z.string().nullable(),
  in: z.number(),
  of: z.number(),
  devices: z.number(),
  last: when.nullable(),
});
export type CheckpointRow = z.infer<typeof checkpointRowSchema>;

/** A list whose codes are accepted, with what the sentence needs. */
export const takenListSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  columns: z.array(columnSchema),
  stamps: z.array(z.strictObject({ id: z.string(), name: z.string(), proves: z.boolean() })),
});
export type TakenList = z.infer<typeof takenListSchema>;

export const deviceViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  state: z.enum(['asked', 'in-touch', 'away', 'shut', 'over']),
  seen: when.nullable(),
  ends: when,
  /** Scans that it had not sent yet when it was last heard. */
  waiting: z.number(),
  /** By how much its clock is wrong, in seconds. */
  clock: z.number(),
});
export type DeviceView = z.infer<typeof deviceViewSchema>;

export const checkpointViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  version: z.number(),
  rule: ruleSchema,
  lists: z.array(takenListSchema),
  /** Other checkpoints that may count together with it. */
  others: z.array(z.strictObject({ id: z.number(), name: z.string(), together: z.boolean() })),
  devices: z.array(deviceViewSchema),
});
export type CheckpointView = z.infer<typeof checkpointViewSchema>;

export const tapeLineSchema = z.strictObject({
  id: z.number(),
  key: z.string(),
  at: when,
  answer: z.enum([...answers, 'taken-back']),
  why: z.string(),
  title: z.string(),
  recordKey: z.string(),
  session: z.string().nullable(),
  who: z.string(),
  how: z.enum([...scanWays, 'page']),
  reason: z.string().nullable(),
  apart: z.boolean(),
  found: answerSchema.nullable(),
  /** Where and when the same code was let in as well. */
  twice: z.strictObject({ at: when, who: z.string(), where: z.string() }).nullable(),
  back: z.boolean(),
});
export type TapeLine = z.infer<typeof tapeLineSchema>;

export const boardSchema = z.strictObject({
  session: z.string().nullable(),
  sessions: z.array(z.string()),
  in: z.number(),
  of: z.number(),
  /** Scans that came in by spans of time, from the first to the last. */
  arrivals: z.strictObject({
    from: when,
    /** Length of a span in minutes. */
    span: z.number(),
    counts: z.array(z.number()),
  }),
  missing: z.array(z.strictObject({ record: z.number(), title: z.string(), key: z.string() })),
  tape: z.array(tapeLineSchema),
  lines: z.number(),
  twice: z.number(),
});
export type Board = z.infer<typeof boardSchema>;

export const listCheckpoints = defineRoute({
  method: 'GET',
  path: '/api/checkpoints',
  right: 'scanner',
  about: 'The checkpoints, with how many people came in.',
  answer: z.strictObject({ checkpoints: z.array(checkpointRowSchema) }),
});
export const makeCheckpoint = defineRoute({
  method: 'POST',
  path: '/api/checkpoints',
  right: 'editor',
  about: 'Creates a checkpoint for the codes of a list.',
  body: z.object({ name: nameOf('the checkpoint'), list: number }),
  answer: newId,
});
export const viewCheckpoint = defineRoute({
  method: 'GET',
  path: '/api/checkpoints/{id}',
  right: 'viewer',
  about: 'A checkpoint: its rule, its lists, its devices.',
  params: byId,
  answer: checkpointViewSchema,
});
export const changeCheckpoint = defineRoute({
  method: 'PATCH',
  path: '/api/checkpoints/{id}',
  right: 'editor',
  about: 'Changes a checkpoint.',
  params: byId,
  body: z.object({
    version: z.number().int(),
    name: nameOf('the checkpoint').optional(),
    rule: ruleSchema.optional(),
    /** Numbers of the others that count together with it from now on. */
    together: z.array(z.number().int()).max(40).optional(),
  }),
  answer: checkpointViewSchema,
});
export const removeCheckpoint = defineRoute({
  method: 'DELETE',
  path: '/api/checkpoints/{id}',
  right: 'editor',
  about: 'Deletes a checkpoint with its log.',
  params: byId,
  answer: ok,
});
export const viewBoard = defineRoute({
  method: 'GET',
  path: '/api/checkpoints/{id}/board',
  right: 'viewer',
  about: 'How many came in, when, who is missing, and the tape.',
  params: byId,
  query: z.object({
    session: z.string().max(80).optional(),
    search: z.string().max(200).default(''),
    missing: z.coerce.number().int().min(1).max(500).default(12),
    lines: z.coerce.number().int().min(1).max(500).default(40),
  }),
  answer: boardSchema,
});
export const columnSessions = defineRoute({
  method: 'GET',
  path: '/api/checkpoints/{id}/values',
  right: 'viewer',
  about: 'The values of a column of its first list, as possible sessions.',
  params: byId,
  query: z.object({ column: z.string().max(40) }),
  answer: z.strictObject({ values: z.array(z.string()) }),
});
export const checkpointNews = defineRoute({
  method: 'GET',
  path: '/api/checkpoints/{id}/news',
  right: 'scanner',
  device: true,
  news: true,
  about: 'News when something is scanned or changed (server-sent events).',
  params: byId,
  answer: { files: ['text/event-stream'] },
});
export const checkpointLog = defineRoute({
  method: 'GET',
  path: '/api/checkpoints/{id}/log',
  right: 'viewer',
  about: 'The whole tape as a file.',
  params: byId,
  query: z.object({ as: z.enum(['csv', 'xlsx']).default('csv') }),
  answer: {
    files: [
      'text/csv; charset=utf-8',
      'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    ],
  },
});
export const addDevice = defineRoute({
  method: 'POST',
  path: '/api/checkpoints/{id}/devices',
  right: 'editor',
  about: 'Adds a device: returns the address in its code, for 15 minutes.',
  params: byId,
  body: z.object({
    name: nameOf('the device', 60),
    hours: z
      .number()
      .min(1)
      .max(24 * 14)
      .default(12),
  }),
  answer: z.strictObject({ id: z.number(), address: z.string(), until: when }),
});
export const shutDevice = defineRoute({
  method: 'DELETE',
  path: '/api/checkpoints/{id}/devices/{device}',
  right: 'editor',
  about: 'Removes a device at once. What it sends later is refused.',
  params: z.object({ id: number, device: number }),
  answer: ok,
});
export const joinCheckpoint = defineRoute({
  method: 'POST',
  path: '/api/checkpoints/join',
  right: 'anyone',
  about: 'Joins a checkpoint with the code on the coordinator’s screen; the device gets a cookie.',
  body: z.object({ token: z.string().min(10).max(80) }),
  answer: z.strictObject({ checkpoint: z.number() }),
});

/** A scan as a device sends it. */
export const scanSchema = z
  .object({
    key: z.uuid(),
    how: z.enum(scanWays),
    /** What the reader read. */
    text: z.string().min(1).max(4000).optional(),
    /** Chosen by hand. */
    record: number.optional(),
    reason: z.string().trim().max(200).optional(),
    /**
     * The device's own answer, and when by its clock in ms since 1970; without it the server
     * answers now.
     */
    apart: z
      .object({ at: z.number(), answer: answerSchema, why: z.string().max(600).default('') })
      .optional(),
  })
  .refine((scan) => (scan.text === undefined) !== (scan.record === undefined), {
    message: 'A scan needs a code, or a record chosen by hand.',
  })
  .refine((scan) => scan.how !== 'hand' || scan.record === undefined || Boolean(scan.reason), {
    message: 'Enter why the person is let in by hand.',
  });
export type ScanGiven = z.input<typeof scanSchema>;

export const scanAnswerSchema = z.strictObject({
  key: z.string(),
  id: z.number(),
  at: when,
  answer: answerSchema,
  why: z.string(),
  title: z.string(),
  recordKey: z.string(),
  shown: z.array(z.tuple([z.string(), z.string()])),
  session: z.string().nullable(),
  /** Differences, if it is let in all the same. */
  differs: z.string(),
  twice: z.strictObject({ at: when, who: z.string(), where: z.string() }).nullable(),
  /** What the scanner seems to add before and after each code. */
  wrap: z.strictObject({ before: z.string(), after: z.string() }).nullable(),
});
export type ScanAnswer = z.infer<typeof scanAnswerSchema>;

export const scanCodes = defineRoute({
  method: 'POST',
  path: '/api/checkpoints/{id}/scans',
  right: 'scanner',
  device: true,
  tape: true,
  size: 'document',
  about: 'Answers scans and saves them; a scan that is sent twice is saved once.',
  params: byId,
  body: z.object({
    scans: z.array(scanSchema).min(1).max(200),
    /** The device's clock as it sends, in ms since 1970. */
    now: z.number(),
    /** Scans that the device still holds. */
    waiting: z.number().int().min(0).max(1_000_000).default(0),
  }),
  answer: z.strictObject({ answers: z.array(scanAnswerSchema) }),
});
export const takeBackScan = defineRoute({
  method: 'POST',
  path: '/api/checkpoints/{id}/back',
  right: 'scanner',
  device: true,
  tape: true,
  about: 'Undoes a scan, as an entry of its own. A device undoes only its own last scan.',
  params: byId,
  body: z.object({
    key: z.uuid(),
    scan: z.uuid(),
    reason: z.string().trim().max(200).optional(),
  }),
  answer: ok,
});
export const checkpointState = defineRoute({
  method: 'GET',
  path: '/api/checkpoints/{id}/state',
  right: 'scanner',
  device: true,
  about: 'What a device shows next to its scans, and what was found since.',
  params: byId,
  query: z.object({ after: z.coerce.number().int().min(0).default(0) }),
  answer: z.strictObject({
    /** There is a film that stands in for the camera, as in the demo. */
    film: z.boolean(),
    name: z.string(),
    device: z.string().nullable(),
    ends: when.nullable(),
    session: z.string().nullable(),
    sessions: z.array(z.string()),
    in: z.number(),
    of: z.number(),
    now: z.number(),
    version: z.number(),
    /** Codes that this device and another let in while offline. */
    twice: z.array(
      z.strictObject({
        id: z.number(),
        title: z.string(),
        at: when,
        other: z.strictObject({ at: when, who: z.string(), where: z.string() }),
      }),
    ),
  }),
});
export const checkpointPack = defineRoute({
  method: 'GET',
  path: '/api/checkpoints/{id}/pack',
  right: 'scanner',
  device: true,
  about: 'What a device needs to work offline: salted hashes of the codes, and what is shown.',
  params: byId,
  answer: packSchema,
});
export const findAtCheckpoint = defineRoute({
  method: 'GET',
  path: '/api/checkpoints/{id}/find',
  right: 'scanner',
  device: true,
  about: 'Records found by title or key.',
  params: byId,
  query: z.object({ search: z.string().trim().min(1).max(100) }),
  answer: z.strictObject({
    found: z.array(z.strictObject({ record: z.number(), title: z.string(), key: z.string() })),
  }),
});

export const checkpointFilm = defineRoute({
  method: 'GET',
  path: '/api/checkpoints/{id}/film',
  right: 'scanner',
  device: true,
  about: 'The codes on the film that replaces a camera in the demo.',
  params: byId,
  answer: z.strictObject({ codes: z.array(z.string()) }),
});

/** Self check-in, and the addresses of its pages. */
export const byOneselfViewSchema = z.strictObject({
  document: byOneselfSchema,
  version: z.number(),
  /** The column of the list that holds the page addresses; null if there is none. */
  column: z.string().nullable(),
  sample: z.string().nullable(),
});
export type ByOneselfView = z.infer<typeof byOneselfViewSchema>;

export const viewByOneself = defineRoute({
  method: 'GET',
  path: '/api/checkpoints/{id}/by-oneself',
  right: 'viewer',
  about: 'The self check-in of a checkpoint.',
  params: byId,
  answer: byOneselfViewSchema,
});
export const changeByOneself = defineRoute({
  method: 'PUT',
  path: '/api/checkpoints/{id}/by-oneself',
  right: 'editor',
  about: 'Changes self check-in: everyone in the list gets a page, and each question a column.',
  params: byId,
  body: z.object({ version: z.number().int(), document: byOneselfSchema }),
  answer: byOneselfViewSchema,
});
const checkInParams = z.object({ id: z.string().max(60), checkpoint: number });
export const checkInPage = defineRoute({
  method: 'GET',
  path: '/r/{id}/in/{checkpoint}',
  right: 'anyone',
  about: 'The self check-in page of one person.',
  params: checkInParams,
  answer: { files: ['text/html; charset=utf-8'] },
  strangers: true,
});
export const checkInByOneself = defineRoute({
  method: 'POST',
  path: '/r/{id}/in/{checkpoint}',
  right: 'anyone',
  about: 'Checks a person in by themselves, with their answers.',
  params: checkInParams,
  upload: { most: 65_536 },
  answer: { files: ['text/html; charset=utf-8'] },
  strangers: true,
});

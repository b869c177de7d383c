import * as z from 'zod';
import { orderSchema } from '../core/orders/order';
import { columnSchema } from '../core/records/columns';
import { byId, nameOf, newId, number, ok, when } from './common';
import { defineRoute } from './route';

export const orderStates = ['on', 'off', 'stopped'] as const;
export const firingStates = ['waiting', 'asking', 'done', 'stopped', 'failed', 'declined'] as const;

const lineSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  state: z.enum(orderStates),
  why: z.string().nullable(),
  pausedUntil: when.nullable(),
  /** The whole sentence, read aloud. */
  says: z.string(),
  /** For one that is on and starts by hand: the list of its records. */
  byHand: z.number().nullable(),
  /**
   * Of the last day: how often it finished, how often it failed, and how many wait for approval.
   */
  day: z.strictObject({ done: z.number(), failed: z.number(), asking: z.number() }),
});
export type OrderLine = z.infer<typeof lineSchema>;

export const orderViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  state: z.enum(orderStates),
  why: z.string().nullable(),
  pausedUntil: when.nullable(),
  /** Without the values of headers that are sealed. */
  document: orderSchema,
  version: z.number(),
  /** Whether there is a version before this one. */
  canUndo: z.boolean(),
  changedBy: z.string(),
  changedAt: when,
  /** What keeps it from being turned on, in words. */
  trouble: z.string().nullable(),
  /** For a schedule: the next time, while it is on. */
  next: when.nullable(),
  /** Of an incoming call: its address, and the values of the last call by their positions. */
  call: z
    .strictObject({ address: z.string(), places: z.array(z.tuple([z.string(), z.string()])) })
    .nullable(),
});
export type OrderView = z.infer<typeof orderViewSchema>;

/** What sentences can use. */
export const orderChoicesSchema = z.strictObject({
  lists: z.array(
    z.strictObject({ id: z.number(), name: z.string(), columns: z.array(columnSchema) }),
  ),
  jobs: z.array(
    z.strictObject({
      id: z.number(),
      name: z.string(),
      list: z.number(),
      /** The outputs that are possible for it. */
      outputs: z.array(z.strictObject({ kind: z.string(), name: z.string(), sheets: z.boolean() })),
      pdfs: z.boolean(),
      stamps: z.array(z.strictObject({ id: z.string(), name: z.string() })),
    }),
  ),
  printers: z.array(z.strictObject({ id: z.number(), name: z.string() })),
  checkpoints: z.array(z.strictObject({ id: z.number(), name: z.string() })),
  /** Folders of the In-tray; null without an In-tray. */
  folders: z.array(z.string()).nullable(),
});
export type OrderChoices = z.infer<typeof orderChoicesSchema>;

const cellSchema = z.strictObject({
  /** It goes on here; it stops; it would fail; it is not reached. */
  state: z.enum(['on', 'stops', 'wrong', 'own', 'none']),
  words: z.string(),
});
export const rehearsalSchema = z.strictObject({
  /** The parts of the sentence, in few words. */
  parts: z.array(
    z.strictObject({
      kind: z.enum(['when', 'condition', 'step']),
      at: z.number(),
      short: z.string(),
    }),
  ),
  lines: z.array(
    z.strictObject({
      at: when,
      title: z.string(),
      record: z.number().nullable(),
      /**
       * Where the result can be previewed: a job, and the record in it by its key; null if there is
       * none.
       */
      look: z.strictObject({ job: z.number(), key: z.string() }).nullable(),
      /** One for each part. */
      cells: z.array(cellSchema),
      /** Why it stops there; blank if it reaches its end. */
      why: z.string(),
    }),
  ),
  /**
   * There are no such events yet, so these are the last records of the list, as if it happened to
   * them now.
   */
  asIf: z.boolean(),
  /** What keeps it from being turned on, in words. */
  trouble: z.string().nullable(),
});
export type Rehearsal = z.infer<typeof rehearsalSchema>;

const stepTakenSchema = z.strictObject({
  seq: z.number(),
  kind: z.string(),
  state: z.enum(['did', 'failed', 'waits']),
  words: z.string(),
  ms: z.number(),
  tries: z.number(),
  at: when,
  /** What it made, to be opened. */
  run: z.number().nullable(),
  job: z.number().nullable(),
  address: z.string().nullable(),
});
export const firingSchema = z.strictObject({
  id: z.number(),
  order: z.number(),
  name: z.string(),
  version: z.number(),
  state: z.enum(firingStates),
  why: z.string().nullable(),
  /** What came in. */
  title: z.string(),
  actor: z.string(),
  record: z.number().nullable(),
  at: when,
  ended: when.nullable(),
  steps: z.array(stepTakenSchema),
});
export type Firing = z.infer<typeof firingSchema>;

const changeSchema = z.object({
  version: z.number().int(),
  name: nameOf('the order'),
  document: orderSchema,
});

export const readyKinds = [
  'volunteers',
  'agreements',
  'signs',
  'check-in',
  'links',
  'withdrawals',
] as const;
export type ReadyKind = (typeof readyKinds)[number];

export const listOrders = defineRoute({
  method: 'GET',
  path: '/api/orders',
  right: 'editor',
  about: 'All standing orders, each as a sentence.',
  answer: z.strictObject({ orders: z.array(lineSchema) }),
});
export const makeOrder = defineRoute({
  method: 'POST',
  path: '/api/orders',
  right: 'editor',
  about: 'Creates a standing order, turned off: from a sentence, or a ready-made one.',
  body: z.union([
    z.object({ ready: z.enum(readyKinds) }),
    z.object({ name: nameOf('the order'), document: orderSchema }),
  ]),
  answer: newId,
});
export const viewOrder = defineRoute({
  method: 'GET',
  path: '/api/orders/{id}',
  right: 'editor',
  about: 'A standing order.',
  params: byId,
  answer: orderViewSchema,
});
export const changeOrder = defineRoute({
  method: 'PUT',
  path: '/api/orders/{id}',
  right: 'editor',
  about:
    'Changes a standing order, as a new version. Work in progress continues with the version it started with.',
  params: byId,
  body: changeSchema,
  answer: orderViewSchema,
});
export const undoOrder = defineRoute({
  method: 'POST',
  path: '/api/orders/{id}/undo',
  right: 'editor',
  about: 'Undoes the last change of a standing order.',
  params: byId,
  body: z.object({ version: z.number().int() }),
  answer: orderViewSchema,
});
export const switchOrder = defineRoute({
  method: 'POST',
  path: '/api/orders/{id}/state',
  right: 'editor',
  about: 'Turns a standing order on or off, or pauses it until a day.',
  params: byId,
  body: z.object({
    state: z.enum(['on', 'off']),
    pausedUntil: z.iso.datetime().nullable().default(null),
  }),
  answer: orderViewSchema,
});
export const removeOrder = defineRoute({
  method: 'DELETE',
  path: '/api/orders/{id}',
  right: 'editor',
  about: 'Deletes a standing order with its log. What it made stays.',
  params: byId,
  answer: ok,
});
export const rehearseOrder = defineRoute({
  method: 'POST',
  path: '/api/orders/{id}/rehearsal',
  right: 'editor',
  about:
    'What it would do with what happened last, or with one record or file. Nothing is made, sent or written.',
  params: byId,
  asks: true,
  body: z.object({
    document: orderSchema,
    record: z.number().int().optional(),
    file: z.string().max(300).optional(),
  }),
  answer: rehearsalSchema,
});
export const choicesForOrders = defineRoute({
  method: 'GET',
  path: '/api/order-choices',
  right: 'editor',
  about: 'The lists, jobs, printers, checkpoints and folders that a standing order can use.',
  answer: orderChoicesSchema,
});
export const listFirings = defineRoute({
  method: 'GET',
  path: '/api/order-log',
  right: 'editor',
  about: 'What orders did, step by step, the latest first: of the last day, or of one order.',
  query: z.object({
    order: number.optional(),
    state: z.enum(firingStates).optional(),
    before: number.optional(),
  }),
  answer: z.strictObject({ firings: z.array(firingSchema), more: z.boolean() }),
});
export const fireAgain = defineRoute({
  method: 'POST',
  path: '/api/order-log/{id}/again',
  right: 'editor',
  about: 'Retries it, from the step that failed or from the start.',
  params: byId,
  body: z.object({ from: z.enum(['step', 'start']) }),
  answer: ok,
});
export const fireFailedAgain = defineRoute({
  method: 'POST',
  path: '/api/orders/{id}/again',
  right: 'editor',
  about: 'Retries everything of an order that failed.',
  params: byId,
  body: z.object({ from: z.enum(['step', 'start']) }),
  answer: z.strictObject({ again: z.number() }),
});
export const answerFiring = defineRoute({
  method: 'POST',
  path: '/api/order-log/{id}/answer',
  right: 'editor',
  about: 'Approves or refuses what waits to be sent.',
  params: byId,
  body: z.object({ yes: z.boolean() }),
  answer: ok,
});
export const fireByHand = defineRoute({
  method: 'POST',
  path: '/api/orders/{id}/by-hand',
  right: 'editor',
  about: 'Starts a standing order for some records.',
  params: byId,
  body: z.object({
    records: z.array(z.number().int()).min(1, 'Tick the records first.').max(5000),
  }),
  answer: z.strictObject({ started: z.number() }),
});
export const newCallSecret = defineRoute({
  method: 'POST',
  path: '/api/orders/{id}/secret',
  right: 'editor',
  about:
    'Creates a new secret for the address of a standing order; it is shown once. The old one no longer works.',
  params: byId,
  answer: z.strictObject({ secret: z.string() }),
});
export const callOrder = defineRoute({
  method: 'POST',
  path: '/api/calls/{token}',
  right: 'anyone',
  strangers: true,
  about:
    'Starts a standing order from a program. The program sends its secret as a bearer token (RFC 6750), or signs what it sends with it (Standard Webhooks).',
  params: z.object({ token: z.string().regex(/^[A-Za-z0-9_-]{10,60}$/) }),
  answer: z.strictObject({ taken: z.boolean() }),
});

import * as z from 'zod';
import { columnsIn, partSchema, type Part } from '../records/parts';
import { isSecret, type Column } from '../records/columns';
import { leaves } from '../run/outputs';
import { conditionsSchema } from './conditions';
import { scheduleSchema } from './schedule';

const id = z.number().int().min(1);
const words = (most: number) => z.array(partSchema).max(40).default([]).pipe(limited(most));
const limited = (most: number) =>
  z
    .array(partSchema)
    .refine(
      (parts) => parts.reduce((n, p) => n + (p.kind === 'text' ? p.text.length : 10), 0) <= most,
      'This text is too long. Shorten it.',
    );

const recordChanges = ['came', 'changed', 'went'] as const;

/** What an order starts from. */
const whenSchema = z.discriminatedUnion('kind', [
  /** A record of a list comes, changes or goes. */
  z.object({
    kind: z.literal('record'),
    list: id,
    on: z.array(z.enum(recordChanges)).min(1, 'Choose when it starts.').max(3),
  }),
  /** A column of a record gets a value that it did not have before. */
  z.object({
    kind: z.literal('reaches'),
    list: id,
    column: z.string().max(40),
    value: z.string().trim().max(300),
  }),
  /** A file arrives in the In-tray, or one of its folders, or is saved again there. */
  z.object({
    kind: z.literal('document'),
    /** A folder of the In-tray by its path from it; blank for all of it. */
    folder: z.string().trim().max(200).default(''),
    /** Also if an existing file is saved again. */
    again: z.boolean().default(true),
    /** The list of its records: a file's name contains a record's key. */
    list: id.nullable().default(null),
  }),
  /** A program calls the order's own address. */
  z.object({
    kind: z.literal('call'),
    list: id.nullable().default(null),
    /** The value with a record's key, by its position in the call. */
    key: z.string().max(200).default(''),
  }),
  /** A code is scanned at a checkpoint, or a link followed. */
  z.object({
    kind: z.literal('scan'),
    of: z.enum(['checkpoint', 'link']),
    checkpoint: id.nullable().default(null),
    list: id,
  }),
  /** A time of the schedule. */
  z.object({ kind: z.literal('schedule'), schedule: scheduleSchema }),
  /** A person starts it, for the ticked records. */
  z.object({ kind: z.literal('hand'), list: id }),
]);
export type When = z.infer<typeof whenSchema>;
export type WhenKind = When['kind'];

/** Headers by which a message is held together. */
const ownHeaders = new Set([
  'host',
  'content-length',
  'transfer-encoding',
  'connection',
  'upgrade',
  'idempotency-key',
  'hand-stamp-orders',
]);

const stepId = z.string().regex(/^[a-z0-9]{1,12}$/);

/** What an order does, one thing after the other. */
export const stepSchema = z.discriminatedUnion('kind', [
  /** Makes an output of a job by a run: for the one record, or for all that are ready, or new. */
  z.object({
    kind: z.literal('make'),
    id: stepId,
    job: id,
    output: z.string().max(40),
    which: z.enum(['record', 'ready', 'new']),
  }),
  /** Takes the file that came among the documents of a job. */
  z.object({ kind: z.literal('take'), id: stepId, job: id }),
  /** Writes something back to the record. */
  z.object({
    kind: z.literal('write'),
    id: stepId,
    column: z.string().max(40),
    parts: words(2000),
  }),
  /** Makes a link that leads to an address. */
  z.object({ kind: z.literal('link'), id: stepId, to: words(2000) }),
  /** Gives the picture of the record's code an address. */
  z.object({ kind: z.literal('picture'), id: stepId, job: id, stamp: z.string().max(40) }),
  /** Emails what was made. */
  z.object({
    kind: z.literal('mail'),
    id: stepId,
    to: words(300),
    subject: words(300),
    text: words(5000),
  }),
  /** Puts what was made into the Out-tray, or a folder in it. */
  z.object({ kind: z.literal('out'), id: stepId, folder: z.string().trim().max(60).default('') }),
  /** Sends what was made to a printer. */
  z.object({ kind: z.literal('print'), id: stepId, printer: id }),
  /** Calls a web address of another program. */
  z.object({
    kind: z.literal('call'),
    id: stepId,
    method: z.enum(['POST', 'PUT', 'PATCH', 'DELETE']).default('POST'),
    to: words(2000),
    /** A secret value is stored encrypted, and never shown. */
    headers: z
      .array(
        z.object({
          name: z
            .string()
            .trim()
            .regex(/^[A-Za-z0-9-]{1,60}$/, 'A header name may have letters, digits and hyphens.')
            .refine(
              (name) => !ownHeaders.has(name.toLowerCase()),
              'Hand Stamp sets this header itself. Remove it.',
            ),
          value: z.string().max(4000),
          secret: z.boolean().default(false),
        }),
      )
      .max(10)
      .default([]),
    fields: z
      .array(z.object({ name: z.string().trim().min(1).max(60), parts: words(2000) }))
      .max(30)
      .default([]),
  }),
  /** Does the following steps for each row of another list that belongs to the record. */
  z.object({
    kind: z.literal('each'),
    id: stepId,
    list: id,
    /** The column of that list that names the record. */
    column: z.string().max(40),
    is: words(300),
  }),
  z.object({ kind: z.literal('stop'), id: stepId }),
]);
export type OrderStep = z.infer<typeof stepSchema>;
export type StepKind = OrderStep['kind'];

export const orderSchema = z.object({
  when: whenSchema,
  conditions: conditionsSchema,
  steps: z.array(stepSchema).max(12),
  /** What it would send waits for approval. */
  ask: z.boolean().default(false),
  /** So often it starts in an hour; beyond that it stops itself. */
  most: z.number().int().min(1).max(20_000).default(500),
});
export type Order = z.infer<typeof orderSchema>;

/** The most rows of another list for which one firing goes on. */
export const mostRowsOfEach = 500;

/** Steps that send or print something: they wait if approval is wanted. */
export const sends = (step: OrderStep): boolean =>
  (sending[step.kind] as (step: OrderStep) => boolean)(step);

/** A decision for each kind, so that a new one does not compile without one. */
const sending: { [K in StepKind]: (step: Extract<OrderStep, { kind: K }>) => boolean } = {
  make: ({ output }) => leaves(output),
  mail: () => true,
  out: () => true,
  print: () => true,
  call: () => true,
  take: () => false,
  write: () => false,
  link: () => false,
  picture: () => false,
  each: () => false,
  stop: () => false,
};

/** The list of an order's records. */
export const listOf = (when: When): number | null => ('list' in when ? when.list : null);

/**
 * The result of a step, or what arrived, as values for texts: columns beside those of the list.
 */
export interface Chip {
  id: string;
  name: string;
}

export const madeChip = (step: string, what: string): string => `made.${step}.${what}`;
export const givenChip = (place: string): string => `given.${place}`;
export const rowChip = (step: string, column: string): string => `row.${step}.${column}`;
export const todayChip = 'today';

const made: Partial<Record<StepKind, readonly (readonly [what: string, name: string])[]>> = {
  make: [
    ['run', 'the run made'],
    ['codes', 'codes read back'],
  ],
  link: [['address', 'the link made']],
  picture: [['address', 'the picture’s address']],
  call: [
    ['status', 'the answer’s status'],
    ['answer', 'the answer'],
  ],
  out: [['file', 'its name in the Out-tray']],
};

/** What arrived, as values for texts, beside the record. */
const given: Record<WhenKind, readonly (readonly [place: string, name: string])[]> = {
  record: [],
  reaches: [],
  document: [
    ['name', 'the file’s name'],
    ['path', 'the file’s folder'],
  ],
  call: [],
  scan: [
    ['where', 'where it was scanned'],
    ['answer', 'what was answered'],
  ],
  schedule: [],
  hand: [],
};

/**
 * All chips that a step can use: of what came in, and of the steps before it.
 * @param example places in the example of an incoming call
 * @param columnsOfList the columns of another list, by its number
 */
export function chipsBefore(
  { when, steps }: Pick<Order, 'when' | 'steps'>,
  before: number,
  example: readonly string[] = [],
  columnsOfList: (list: number) => readonly Column[] = () => [],
): Chip[] {
  return [
    { id: todayChip, name: 'today' },
    ...given[when.kind].map(([place, name]) => ({ id: givenChip(place), name })),
    ...(when.kind === 'call'
      ? example.map((place) => ({ id: givenChip(place), name: place }))
      : []),
    ...steps.slice(0, before).flatMap((step) => [
      ...(made[step.kind] ?? []).map(([what, name]) => ({ id: madeChip(step.id, what), name })),
      ...(step.kind === 'each'
        ? columnsOfList(step.list)
            .filter((c, _, all) => !isSecret(c, all))
            .map((c) => ({ id: rowChip(step.id, c.id), name: c.name }))
        : []),
    ]),
  ];
}

/**
 * What keeps an order from being switched on, in words; the first of it.
 * @param columns of the list that it is about
 */
export function orderTrouble(
  { when, steps }: Pick<Order, 'when' | 'steps'>,
  columns: readonly Column[],
): string | undefined {
  if (steps.length === 0) return 'First choose what it does.';
  const ids = steps.map((s) => s.id);
  if (new Set(ids).size < ids.length) return 'Two of its steps have the same name. Rename one.';
  if (when.kind === 'reaches' && !columns.some((c) => c.id === when.column))
    return 'The column that it waits for was deleted. Choose another.';
  const record = listOf(when) !== null;
  for (const [i, step] of steps.entries()) {
    if ((step.kind === 'write' || step.kind === 'picture') && !record)
      return 'This order starts without a record, so it cannot write into one or publish its picture. Start it from a record.';
    if (step.kind === 'write') {
      const column = columns.find((c) => c.id === step.column);
      if (!column) return 'The column that it writes to was deleted. Choose another.';
      if (column.worked)
        return `${column.name} is worked out from other columns, so you cannot write to it. Choose another.`;
      if (step.parts.length === 0) return `Enter what is written to ${column.name}.`;
      const secret = secretIn(step.parts, columns);
      if (secret && !isSecret(column, columns))
        return `${secret.name} is secret, so it cannot be written to ${column.name}, which everyone sees.`;
    }
    if (step.kind === 'make' && step.which === 'record' && !record)
      return 'This order starts without a record. Choose for which records it makes something.';
    if (step.kind === 'take' && when.kind !== 'document')
      return 'Only a file that arrived can be added to the PDFs of a job.';
    if (
      (step.kind === 'mail' || step.kind === 'out' || step.kind === 'print') &&
      !steps.slice(0, i).some((s) => s.kind === 'make')
    )
      return 'First choose what is made. That is then emailed, put into the Out-tray or printed.';
    if ((step.kind === 'link' || step.kind === 'call') && step.to.length === 0)
      return step.kind === 'link'
        ? 'Enter where the link leads.'
        : 'Enter the web address to call.';
    if (step.kind === 'mail' && step.to.length === 0) return 'Enter the email address.';
    if (step.kind === 'call') {
      const secret = secretIn([...step.to, ...step.fields.flatMap((f) => f.parts)], columns);
      if (secret) return `${secret.name} is secret, so it cannot be sent to another server.`;
    }
  }
  return undefined;
}

/** The first column in some words that is kept secret. */
export const secretIn = (parts: readonly Part[], columns: readonly Column[]): Column | undefined =>
  columnsIn(parts)
    .map((id) => columns.find((own) => own.id === id))
    .find((column) => column && isSecret(column, columns));

/**
 * Whether a value sent to a step is visible to readers of the order: not the values of secret
 * headers.
 */
export const withoutSecrets = (order: Order): Order => ({
  ...order,
  steps: order.steps.map((step) =>
    step.kind === 'call'
      ? {
          ...step,
          headers: step.headers.map((h) => (h.secret ? { ...h, value: '' } : h)),
        }
      : step,
  ),
});

/** An event of a record, as orders check it. */
export interface RecordEvent {
  list: number;
  change: (typeof recordChanges)[number];
  before: Readonly<Record<string, string>> | null;
  after: Readonly<Record<string, string>> | null;
}

/**
 * What a change means for orders that wait for records: a row that was added empty is not a record
 * yet, and arrives when its key is filled in. Undefined if nothing has happened to a record.
 * @param key the key column; any value will do if a list has none
 * @param now the current values of the record, if it exists
 */
export function eventOf(
  { change, before, after }: Pick<RecordEvent, 'change' | 'before' | 'after'>,
  key: string | undefined,
  now: Readonly<Record<string, string>> | undefined,
): RecordEvent['change'] | undefined {
  const isThere = (values: Readonly<Record<string, string>> | null | undefined) =>
    Object.entries(values ?? {}).some(
      ([column, value]) => (key === undefined || column === key) && value.trim() !== '',
    );
  if (change === 'went') return 'went';
  if (change === 'came') return isThere(after) ? 'came' : undefined;
  const touched = key === undefined || key in (after ?? {}) || key in (before ?? {});
  if (!touched) return !now || isThere(now) ? 'changed' : undefined;
  if (!isThere(after)) return isThere(before) ? 'changed' : undefined;
  // of a list without a key the other cells of the record are not in the change
  return isThere(before) || key === undefined ? 'changed' : 'came';
}

/** Whether a change of a record is what an order waits for. */
export function startsFrom(when: When, { list, change, before, after }: RecordEvent): boolean {
  if (when.kind === 'record') return when.list === list && when.on.includes(change);
  if (when.kind !== 'reaches' || when.list !== list || change === 'went') return false;
  const tidy = (text: string | undefined) => (text ?? '').trim().toLocaleLowerCase();
  return (
    after !== null &&
    when.column in after &&
    tidy(after[when.column]) === tidy(when.value) &&
    (change === 'came' || tidy(before?.[when.column]) !== tidy(when.value))
  );
}

/** Tries of a step that may help later, and after how many seconds. */
export const stepPauses = [5, 30, 120, 600, 1800] as const;

/** Every value of a call, by its position: `person.name`, `lines.0.item`. */
export function placesIn(sent: unknown, at = '', most = 200): Map<string, string> {
  const found = new Map<string, string>();
  const walk = (value: unknown, place: string, deep: number): void => {
    if (found.size >= most || deep > 8) return;
    if (value !== null && typeof value === 'object') {
      for (const [key, inner] of Object.entries(value))
        walk(inner, place === '' ? key : `${place}.${key}`, deep + 1);
    } else if (value !== null && value !== undefined && place !== '')
      found.set(place, typeof value === 'object' ? '' : String(value as string | number | boolean));
  };
  walk(sent, at, 0);
  return found;
}

/** A result of a step that can be opened. */
export interface Made {
  run?: number;
  link?: string;
  address?: string;
  record?: number;
  file?: string;
  document?: string;
  /** Its number, if it was added to the documents of a job. */
  documentId?: number;
  print?: number;
  status?: number;
}

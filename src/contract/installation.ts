import * as z from 'zod';
import { paperFaults } from '../core/readback/paper-faults';
import { isPrinterAddress, printerFactsSchema, printStates } from '../core/run/printer';
import { keptForDays, keptKinds, wholeGb } from '../core/job/retention';
import { byId, fileSchema, nameOf, newId, ok, when } from './common';
import { defineRoute } from './route';

/**
 * Settings of the whole installation. What is left out stays as it is, even if somebody else
 * changed it in the meantime.
 */
export const settingsSchema = z.object({
  /** The link check may contact this computer and private networks. */
  doorPrivate: z.boolean().optional(),
  /** Days for which each kind is kept. */
  kept: z.partialRecord(z.enum(keptKinds), z.literal([...keptForDays])).default({}),
  wholeGb: z
    .number()
    .int()
    .min(wholeGb.least, 'The limit is at least 1 GB. Enter more.')
    .max(wholeGb.most, `The limit is at most ${wholeGb.most} GB. Enter less.`)
    .optional(),
});
export type SettingsChange = z.output<typeof settingsSchema>;

export const settingsViewSchema = z.strictObject({
  doorPrivate: z.boolean(),
  kinds: z.record(z.enum(keptKinds), z.strictObject({ days: z.number(), bytes: z.number() })),
  whole: z.strictObject({ gb: z.number(), bytes: z.number() }),
});
export type SettingsView = z.infer<typeof settingsViewSchema>;

export const connectionSchema = z.object({
  name: nameOf('the connection', 80),
  host: z.string().trim().min(1, 'Enter the server on which the database runs.').max(200),
  port: z.number().int().min(1).max(65535),
  database: z.string().trim().min(1, 'Enter the name of the database.').max(120),
  username: z.string().trim().min(1, 'Enter the user name.').max(120),
  password: z.string().max(200),
  /** Encrypted: with a certificate that is checked, with any, or not at all. */
  tls: z.enum(['yes', 'unchecked', 'no']).default('yes'),
});
export type NewConnection = z.output<typeof connectionSchema>;

/** A connection as it is shown: never with its password. */
export const connectionViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  host: z.string(),
  port: z.number(),
  database: z.string(),
  username: z.string(),
});
export type ConnectionView = z.infer<typeof connectionViewSchema>;

export const printJobViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  sheets: z.number(),
  printed: z.number(),
  state: z.enum(printStates),
  /** Why it waits or ended like this, in words; blank if there is nothing to say. */
  reason: z.string(),
  sent: when,
});
export type PrintJobView = z.infer<typeof printJobViewSchema>;

const printerAddressWords =
  'Enter the address that the printer shows, such as ipp://printer.example/ipp/print, without a user name or password.';

const printerShape = {
  name: nameOf('the printer', 80),
  dpi: z.number().int().min(72).max(2400),
  offsetX: z.number().min(-20).max(20),
  offsetY: z.number().min(-20).max(20),
  /** Dots of the finest module that reads on its test page. */
  finest: z.number().int().min(1).max(40).nullable(),
  /** Of a real printer, `ipp://…`; undefined for a test printer. */
  address: z.string().trim().max(300).refine(isPrinterAddress, printerAddressWords).nullable(),
  /**
   * Of a test printer: the fault of its sheets, and whether pictures of them go into the In-tray.
   */
  faults: z.array(z.enum(paperFaults.map(({ id }) => id))).max(paperFaults.length),
  intoTray: z.boolean(),
};
export const printerSchema = z.object({
  ...printerShape,
  address: printerShape.address.default(null),
  faults: printerShape.faults.default([]),
  intoTray: printerShape.intoTray.default(false),
});
/** What is left out stays as it is, even if somebody else changed it in the meantime. */
export const printerChangeSchema = z.object(printerShape).partial();

export type Printer = z.output<typeof printerSchema>;

/** The result of sending something to a printer. */
const sentSchema = z.strictObject({
  sent: z.boolean(),
  /** What does not fit, unless it was sent in spite of it. */
  against: z.array(z.string()),
  /** Why it waits, in words; null if nothing is known that holds it up. */
  waits: z.string().nullable(),
});
export type SentToPrinter = z.infer<typeof sentSchema>;

export const printerViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  dpi: z.number(),
  /** In mm, to the right and down. */
  offsetX: z.number(),
  offsetY: z.number(),
  finest: z.number().nullable(),
  /** It has an address, which only administrators see. */
  real: z.boolean(),
  address: z.string().nullable(),
  /** Its last report about itself, and why it did not answer. */
  facts: printerFactsSchema.nullable(),
  asked: when.nullable(),
  trouble: z.string().nullable(),
  faults: z.array(z.enum(paperFaults.map(({ id }) => id))),
  intoTray: z.boolean(),
  jobs: z.array(printJobViewSchema),
});
export type PrinterView = z.infer<typeof printerViewSchema>;

export const letterViewSchema = z.strictObject({
  id: z.number(),
  subject: z.string(),
  body: z.string(),
  job: z.number().nullable(),
  at: when,
  files: z.array(fileSchema),
});
export type LetterView = z.infer<typeof letterViewSchema>;

export const trayEntrySchema = z.strictObject({
  name: z.string(),
  kind: z.enum(['file', 'folder']),
  size: z.number(),
  changed: when,
});
export type TrayEntry = z.infer<typeof trayEntrySchema>;

export const health = defineRoute({
  method: 'GET',
  path: '/api/health',
  right: 'anyone',
  about:
    'Whether Hand Stamp answers (live), and whether it has what it needs to work (ready); 503 if not.',
  query: z.object({ only: z.enum(['live', 'ready']).default('ready') }),
  answer: ok,
  waits: false,
});
export const viewMetrics = defineRoute({
  method: 'GET',
  path: '/api/metrics',
  right: 'administrator',
  bearer: 'HAND_STAMP_METRICS_KEY',
  about: 'Figures about this installation, in the Prometheus text format.',
  answer: { files: ['text/plain; version=0.0.4; charset=utf-8'] },
});
export const viewStandInProgram = defineRoute({
  method: 'GET',
  path: '/api/stand-ins',
  right: 'editor',
  about: 'Where the demo’s test program is, if there is one.',
  answer: z.strictObject({ program: z.string().nullable() }),
});
export const viewSettings = defineRoute({
  method: 'GET',
  path: '/api/settings',
  right: 'viewer',
  about: 'The settings.',
  answer: settingsViewSchema,
});
export const changeSettings = defineRoute({
  method: 'PUT',
  path: '/api/settings',
  right: 'administrator',
  about: 'Changes the settings.',
  body: settingsSchema,
  answer: settingsViewSchema,
});
export const listConnections = defineRoute({
  method: 'GET',
  path: '/api/connections',
  right: 'editor',
  about: 'Databases that records are read from.',
  answer: z.strictObject({ connections: z.array(connectionViewSchema) }),
});
export const keepConnection = defineRoute({
  method: 'POST',
  path: '/api/connections',
  right: 'administrator',
  about: 'Tests and saves a connection.',
  body: connectionSchema,
  answer: newId,
});
export const listTables = defineRoute({
  method: 'GET',
  path: '/api/connections/{id}',
  right: 'editor',
  about: 'Tables and views of a database.',
  params: byId,
  answer: z.strictObject({
    tables: z.array(z.strictObject({ name: z.string(), query: z.string() })),
  }),
});
export const forgetConnection = defineRoute({
  method: 'DELETE',
  path: '/api/connections/{id}',
  right: 'administrator',
  about: 'Removes a connection.',
  params: byId,
  answer: ok,
});
export const listPrinters = defineRoute({
  method: 'GET',
  path: '/api/printers',
  right: 'viewer',
  about: 'The printers, and what was sent to each recently.',
  answer: z.strictObject({ printers: z.array(printerViewSchema) }),
});
export const addPrinter = defineRoute({
  method: 'POST',
  path: '/api/printers',
  right: 'administrator',
  about: 'Adds a printer.',
  body: printerSchema,
  answer: ok,
});
export const changePrinter = defineRoute({
  method: 'PUT',
  path: '/api/printers/{id}',
  right: 'administrator',
  about: 'Changes a printer.',
  params: byId,
  body: printerChangeSchema,
  answer: ok,
});
export const sendToPrinter = defineRoute({
  method: 'POST',
  path: '/api/printers/{id}',
  right: 'editor',
  about:
    'Sends a finished run to a printer. A real printer is asked first; what does not fit is reported and not sent.',
  params: byId,
  body: z.object({ run: z.number().int(), anyway: z.boolean().default(false) }),
  answer: sentSchema,
});
export const removePrinter = defineRoute({
  method: 'DELETE',
  path: '/api/printers/{id}',
  right: 'administrator',
  about: 'Removes a printer.',
  params: byId,
  answer: ok,
});
export const askPrinter = defineRoute({
  method: 'POST',
  path: '/api/printers/{id}/facts',
  right: 'editor',
  about: 'Asks a printer for its details again.',
  params: byId,
  answer: ok,
});
export const printTestPage = defineRoute({
  method: 'POST',
  path: '/api/printers/{id}/test-page',
  right: 'editor',
  about: 'Sends its test page to a printer.',
  params: byId,
  answer: sentSchema,
});
export const printerTestPage = defineRoute({
  method: 'GET',
  path: '/api/printers/{id}/test-page',
  right: 'viewer',
  about: 'A page that shows how fine a printer prints.',
  params: byId,
  answer: { files: ['application/pdf'] },
});
export const readTestPage = defineRoute({
  method: 'POST',
  path: '/api/printers/{id}/test-page/read',
  right: 'administrator',
  about: 'Saves what was read from a picture of a printer’s test page, and so how fine it prints.',
  params: byId,
  body: z.object({ texts: z.array(z.string().max(5000)).max(500) }),
  answer: z.strictObject({ finest: z.number() }),
});
export const stopPrintJob = defineRoute({
  method: 'DELETE',
  path: '/api/print-jobs/{id}',
  right: 'editor',
  about: 'Stops what was sent to a printer.',
  params: byId,
  answer: ok,
});
export const listLetters = defineRoute({
  method: 'GET',
  path: '/api/letters',
  right: 'viewer',
  about: 'Notices that runs are done, the latest first.',
  answer: z.strictObject({ letters: z.array(letterViewSchema) }),
});
export const viewTray = defineRoute({
  method: 'GET',
  path: '/api/tray',
  right: 'editor',
  about: 'The files in the In-tray.',
  answer: z.strictObject({
    folder: z.string().nullable(),
    entries: z.array(trayEntrySchema),
    /** Other files there, such as PDFs, which standing orders use. */
    others: z.number(),
  }),
});

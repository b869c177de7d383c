import * as z from 'zod';
import { devices } from '../core/links/device';
import { leadsSchema, linkRuleSchema, linkStates } from '../core/links/leading';
import { nameOf, number, ok, when } from './common';
import { defineRoute } from './route';

/** Which links: by state, by name or address, by list. */
export const linkFilters = [
  'all',
  'open',
  'not-found',
  'nowhere',
  'ending',
  'paused',
  'over',
  'unscanned',
  'alone',
] as const;
export type LinkFilter = (typeof linkFilters)[number];

export const whichLinksSchema = z.object({
  filter: z.enum(linkFilters).default('all'),
  search: z.string().max(200).default(''),
  list: number.optional(),
});
export type WhichLinks = z.output<typeof whichLinksSchema>;

/** Where a link leads now. */
export const leadingSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('leads'), to: z.string() }),
  z.strictObject({ kind: z.enum(['paused', 'withdrawn', 'ended']) }),
  z.strictObject({ kind: z.literal('not-yet'), opens: z.string() }),
  z.strictObject({
    kind: z.literal('nowhere'),
    why: z.enum(['gone', 'blank', 'no-address', 'ring']),
  }),
]);

const answeredSchema = z
  .enum(['opens', 'redirected', 'sign-in', 'not-found', 'fails', 'no-answer', 'not-asked'])
  .nullable();

export const linkRowSchema = z.strictObject({
  code: z.string(),
  title: z.string(),
  leading: leadingSchema,
  /** The result of the last check of its page. */
  answered: answeredSchema,
  ends: z.string().nullable(),
  printed: z.boolean(),
  scans: z.number(),
  /** Scans by people on each of the last 14 days, today last. */
  days: z.array(z.number()).length(14),
});
export type LinkRow = z.infer<typeof linkRowSchema>;

export const linkCountsSchema = z.strictObject({
  /** Origin that links are reached by. */
  base: z.string(),
  all: z.number(),
  open: z.number(),
  notFound: z.number(),
  /** End today or tomorrow. */
  ending: z.number(),
  paused: z.number(),
  /** Ended or withdrawn. */
  over: z.number(),
  printed: z.number(),
  /** Printed, and never scanned since. */
  unscanned: z.number(),
  alone: z.number(),
  scans: z.number(),
  week: z.number(),
  /** The check whether their pages open. */
  asking: z.strictObject({ done: z.number(), of: z.number() }).nullable(),
  asked: when.nullable(),
  lists: z.array(z.strictObject({ id: z.number(), name: z.string(), links: z.number() })),
});
export type LinkCounts = z.infer<typeof linkCountsSchema>;

/** The changes of a link; what is left out stays. */
const linkSaidSchema = linkRuleSchema.partial().extend({ title: z.string().optional() });

export const linkChangeViewSchema = z.strictObject({
  batch: z.string(),
  /** Of the link alone, or of the whole column. */
  of: z.enum(['link', 'column']),
  before: linkSaidSchema,
  after: linkSaidSchema,
  at: when,
  by: z.string(),
  undone: z.boolean(),
  /** Links that were changed at the same time. */
  together: z.number(),
});
export type LinkChangeView = z.infer<typeof linkChangeViewSchema>;

export const linkViewSchema = linkRowSchema.extend({
  /** Its address, as it is printed. */
  address: z.string(),
  rule: linkRuleSchema,
  /** Where the links of its column lead; null for a single link. */
  column: z
    .strictObject({ id: z.string(), name: z.string(), list: z.number(), leads: leadsSchema })
    .nullable(),
  list: z.strictObject({ id: z.number(), name: z.string() }).nullable(),
  columns: z.array(z.strictObject({ id: z.string(), name: z.string() })),
  job: z.number().nullable(),
  history: z.array(linkChangeViewSchema),
  made: when,
  by: z.string(),
  printedAt: when.nullable(),
  scannedAt: when.nullable(),
  /** Scans by people a day, from the first of the last 60 days with any, today last. */
  daily: z.array(z.strictObject({ day: z.string(), scans: z.number() })),
  /** By weekday (Monday first) and hour, in the calendar of the server. */
  hours: z.array(z.array(z.number()).length(24)).length(7),
  devices: z.partialRecord(z.enum(devices), z.number()),
});
export type LinkView = z.infer<typeof linkViewSchema>;

/** Changes of links: what is left out stays as it is. */
export const linkChangeSchema = linkRuleSchema
  .partial()
  .extend({ title: nameOf('the link', 200).optional() });
export type LinkChange = z.output<typeof linkChangeSchema>;

export const chosenLinksSchema = z.union([
  z.object({ codes: z.array(z.string().max(13)).min(1).max(5000) }),
  z.object({ all: whichLinksSchema }),
]);

export const linkCounts = defineRoute({
  method: 'GET',
  path: '/api/links/counts',
  right: 'viewer',
  about: 'The states of the links, counted.',
  query: z.object({ list: number.optional() }),
  answer: linkCountsSchema,
});
export const listLinks = defineRoute({
  method: 'GET',
  path: '/api/links',
  right: 'viewer',
  about: 'Links sorted by age or scans, a window of them.',
  query: whichLinksSchema.extend({
    order: z.enum(['new', 'scans', 'title']).default('new'),
    from: z.coerce.number().int().min(0).max(10_000_000).default(0),
  }),
  answer: z.strictObject({ of: z.number(), rows: z.array(linkRowSchema) }),
});
export const makeLink = defineRoute({
  method: 'POST',
  path: '/api/links',
  right: 'editor',
  about: 'Creates a single link.',
  body: z.object({
    title: nameOf('the link', 200),
    to: z.string().trim().min(1, 'Enter where it leads.').max(2000),
    for: z.enum(['anyone', 'one']).default('anyone'),
  }),
  answer: z.strictObject({ code: z.string(), address: z.string() }),
});
export const viewLink = defineRoute({
  method: 'GET',
  path: '/api/links/{code}',
  right: 'viewer',
  about: 'One link: where it leads and has led, and its scans.',
  params: z.object({ code: z.string().max(40) }),
  answer: linkViewSchema,
});
export const changeLinks = defineRoute({
  method: 'POST',
  path: '/api/links/change',
  right: 'editor',
  about: 'Changes where links lead, pauses, ends or withdraws them.',
  body: z.object({ links: chosenLinksSchema, change: linkChangeSchema }),
  answer: z.strictObject({ batch: z.string(), changed: z.number() }),
});
export const undoLinks = defineRoute({
  method: 'POST',
  path: '/api/links/undo',
  right: 'editor',
  about: 'Undoes a change of links, unless they were changed again since.',
  body: z.object({ batch: z.uuid() }),
  answer: z.strictObject({ undone: z.number(), left: z.number() }),
});
export const askLinks = defineRoute({
  method: 'POST',
  path: '/api/links/ask',
  right: 'editor',
  about: 'Checks whether the web pages behind all open links open.',
  answer: ok,
});
export const stopAskingLinks = defineRoute({
  method: 'DELETE',
  path: '/api/links/ask',
  right: 'editor',
  about: 'Stops checking the web pages behind links.',
  answer: ok,
});
export const followLink = defineRoute({
  method: 'GET',
  path: '/l/{code}',
  right: 'anyone',
  about: 'Opens where a link leads.',
  params: z.object({ code: z.string().max(40) }),
  answer: { files: ['text/html; charset=utf-8'] },
  strangers: true,
});

export const previewLink = defineRoute({
  method: 'GET',
  path: '/l/{code}/preview',
  right: 'anyone',
  about: 'Shows where a link leads, and counts no scan.',
  params: z.object({ code: z.string().max(40) }),
  answer: { files: ['text/html; charset=utf-8'] },
  strangers: true,
});

export { linkStates };

/** Under which addresses people reach this installation. */
export const addressesViewSchema = z.strictObject({
  base: z.string(),
  links: z.string(),
  /** Links have a name of their own. */
  own: z.boolean(),
  from: z.enum(['start', 'settings', 'machine']),
  former: z.array(z.string()),
});
export type AddressesView = z.infer<typeof addressesViewSchema>;

const originSchema = z
  .string()
  .trim()
  .max(200)
  .transform((text) => (text === '' || /^[a-z]+:\/\//i.test(text) ? text : `https://${text}`))
  .refine(
    (text) => text === '' || (URL.canParse(text) && /^https?:\/\/[^/?#@\s]+\/?$/i.test(text)),
    'Enter a web address without a path, such as https://stamp.example.',
  )
  .transform((text) => (text === '' ? '' : new URL(text).origin));
/** What is left out stays as it is, even if somebody else changed it in the meantime. */
export const addressesChangeSchema = z.object({
  /** Blank: this machine. */
  base: originSchema.optional(),
  /** Blank: the same as the base. */
  links: originSchema.optional(),
});

export const viewOurAddresses = defineRoute({
  method: 'GET',
  path: '/api/settings/addresses',
  right: 'signed-in',
  about: 'The web addresses of this installation.',
  answer: addressesViewSchema,
});
/** The effect of a change of the addresses. */
export const addressesEffectSchema = z.strictObject({
  /** Codes that runs printed with an address that would not be in force any more, by job. */
  printed: z.array(
    z.strictObject({ job: z.number(), name: z.string(), records: z.number(), origin: z.string() }),
  ),
  /** Links whose codes would change with the next print. */
  links: z.number(),
  /** Picture addresses that were given out. */
  pictures: z.number(),
});
export type AddressesEffect = z.infer<typeof addressesEffectSchema>;
export const tryOurAddresses = defineRoute({
  method: 'POST',
  path: '/api/settings/addresses/try',
  right: 'administrator',
  asks: true,
  about: 'What another web address of this installation would change.',
  body: addressesChangeSchema,
  answer: addressesEffectSchema,
});
export const changeOurAddresses = defineRoute({
  method: 'PUT',
  path: '/api/settings/addresses',
  right: 'administrator',
  about: 'Changes the web addresses of this installation.',
  body: addressesChangeSchema,
  answer: addressesViewSchema,
});

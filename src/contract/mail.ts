import * as z from 'zod';
import { addressTrouble } from '../core/mail/address';
import { mailStates } from '../core/mail/states';
import { byId, ok, when } from './common';
import { defineRoute } from './route';

const address = z
  .string()
  .trim()
  .refine(
    (text) => addressTrouble(text) === undefined,
    'This is not an email address. Enter one like codes@place.example.',
  );

/** How mails leave. */
export const mailServerSchema = z.object({
  host: z.string().trim().min(1, 'Enter the mail server.').max(200),
  port: z.number().int().min(1).max(65535),
  /** Encrypted from the start (usually port 465), after the greeting (587), or not at all. */
  tls: z.enum(['yes', 'after', 'no']),
  /** The user name; blank if the server needs none. */
  user: z.string().trim().max(200),
  /** If left out, it stays as it is; not if the server or the user name changed. */
  password: z.string().max(500).optional(),
  senderName: z.string().trim().max(120),
  sender: address,
  /** Most mails in a minute. */
  pace: z.number().int().min(1).max(6000),
  /** Who gets a notice when a run is done; blank for nobody. */
  notices: z.union([z.literal(''), address]),
});
export type MailServerChange = z.output<typeof mailServerSchema>;

/** The same as it is shown: never with its password. */
export const mailServerViewSchema = mailServerSchema
  .omit({ password: true })
  .extend({ hasPassword: z.boolean() })
  .strict();
export type MailServerView = z.infer<typeof mailServerViewSchema>;

/** States of the emails of a run. */
export const mailCountsSchema = z.strictObject({
  counts: z.record(z.enum(mailStates), z.number()),
  /** Test emails: they go to the person who tests, not to the records. */
  trial: z.string().nullable(),
  /** Why they are not sent, in words. */
  trouble: z.string().nullable(),
});
export type MailCounts = z.infer<typeof mailCountsSchema>;

export const mailLineSchema = z.strictObject({
  record: z.number().nullable(),
  title: z.string(),
  address: z.string(),
  state: z.enum(mailStates),
  /** The server's answer, or why it is held. */
  reply: z.string(),
  at: when.nullable(),
});
export type MailLine = z.infer<typeof mailLineSchema>;

/** Which emails of a run are sent after all. */
export const sendAgainSchema = z.object({ which: z.enum(['stopped', 'refused', 'unsure']) });

const messageName = z.object({
  name: z
    .string()
    .regex(/^[\w.-]{1,120}\.eml$/, 'This no longer exists. It may have been deleted.'),
});
export const outTrayMessageSchema = z.strictObject({
  name: z.string(),
  to: z.string(),
  from: z.string(),
  subject: z.string(),
  at: when,
  size: z.number(),
  files: z.array(z.strictObject({ name: z.string(), size: z.number() })),
});
export type OutTrayMessage = z.infer<typeof outTrayMessageSchema>;

export const viewMailServer = defineRoute({
  method: 'GET',
  path: '/api/mail-server',
  right: 'editor',
  about: 'The mail server.',
  answer: z.strictObject({ server: mailServerViewSchema.nullable() }),
});
export const changeMailServer = defineRoute({
  method: 'PUT',
  path: '/api/mail-server',
  right: 'administrator',
  about: 'Changes the mail server.',
  body: mailServerSchema,
  answer: ok,
});
export const tryMailServer = defineRoute({
  method: 'POST',
  path: '/api/mail-server/try',
  right: 'administrator',
  about: 'Sends a test email.',
  body: z.object({ to: address }),
  answer: ok,
});
export const viewOutTray = defineRoute({
  method: 'GET',
  path: '/api/out-tray',
  right: 'editor',
  about: 'Emails that the test mail server received, the latest first.',
  answer: z.strictObject({
    folder: z.string().nullable(),
    all: z.number(),
    messages: z.array(outTrayMessageSchema),
  }),
});
export const viewMessage = defineRoute({
  method: 'GET',
  path: '/api/out-tray/{name}',
  right: 'editor',
  about: 'An email as its reader sees it.',
  params: messageName,
  answer: { files: ['text/html; charset=utf-8'] },
});
export const messageFile = defineRoute({
  method: 'GET',
  path: '/api/out-tray/{name}/files/{number}',
  right: 'editor',
  about: 'A file attached to an email.',
  params: messageName.extend({ number: z.coerce.number().int().min(0).max(100) }),
  answer: { files: ['application/octet-stream'] },
});
export const listMails = defineRoute({
  method: 'GET',
  path: '/api/runs/{id}/mails',
  right: 'viewer',
  of: 'run',
  about: 'The emails of a run and what happened to each, unsent ones first.',
  params: byId,
  answer: z.strictObject({ mails: z.array(mailLineSchema) }),
});
export const mailAccount = defineRoute({
  method: 'GET',
  path: '/api/runs/{id}/mails/account',
  right: 'viewer',
  of: 'run',
  about: 'The same for all of them, as a file.',
  params: byId,
  answer: { files: ['text/csv; charset=utf-8'] },
});
export const stopMails = defineRoute({
  method: 'POST',
  path: '/api/runs/{id}/mails/stop',
  right: 'editor',
  of: 'run',
  about: 'Stops sending the emails of a run.',
  params: byId,
  answer: ok,
});
export const sendMailsAgain = defineRoute({
  method: 'POST',
  path: '/api/runs/{id}/mails/send',
  right: 'editor',
  of: 'run',
  about: 'Sends the emails of a run again that were not sent or are uncertain.',
  params: byId,
  body: sendAgainSchema,
  answer: ok,
});

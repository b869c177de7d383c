import * as z from 'zod';
import { rights, sharedRights } from '../core/access/rights';
import { byId, nameOf, number, ok, when } from './common';
import { defineRoute } from './route';

export const rightSchema = z.enum(rights);
/** Ids of people, sessions and passkeys. */
const idText = z.string().min(1).max(64);
const byText = z.object({ id: idText });
export const mailAddress = z
  .string()
  .trim()
  .toLowerCase()
  .max(200)
  .pipe(z.email('This is not an email address.'));
const password = z.string().min(1, 'Enter your password.').max(1000);

export const personSchema = z.strictObject({
  id: z.string(),
  name: z.string(),
  email: z.string(),
  right: rightSchema,
});
export type PersonView = z.infer<typeof personSchema>;

export const meSchema = z.strictObject({
  person: personSchema,
  /** The made-up people of a demo, whom its visitor may become. */
  standIns: z.array(personSchema),
});
export type Me = z.infer<typeof meSchema>;

export const viewMe = defineRoute({
  method: 'GET',
  path: '/api/me',
  about: 'The person who is signed in.',
  right: 'signed-in',
  answer: meSchema,
});
export const becomeStandIn = defineRoute({
  method: 'POST',
  path: '/api/me/become',
  about: 'Becomes another of the demo’s made-up people.',
  right: 'anyone',
  body: z.object({ person: idText }),
  answer: ok,
});
export const viewStandIns = defineRoute({
  method: 'GET',
  path: '/api/sign-in',
  about: 'The demo’s made-up people, for the sign-in page.',
  right: 'anyone',
  answer: z.strictObject({ standIns: z.array(personSchema) }),
});
export const signIn = defineRoute({
  method: 'POST',
  path: '/api/sign-in',
  about: 'Signs in with an email address and a password.',
  right: 'anyone',
  body: z.object({ email: mailAddress, password }),
  answer: z.strictObject({ next: z.enum(['in', 'second']) }),
});
export const signInSecond = defineRoute({
  method: 'POST',
  path: '/api/sign-in/second',
  about: 'Confirms two-step sign-in with a code.',
  right: 'anyone',
  body: z.object({
    code: z.string().trim().min(4, 'Give the code.').max(40),
    kind: z.enum(['app', 'spare']),
  }),
  answer: ok,
});
/**
 * Input and output of the browser's passkey functions (WebAuthn Level 3); checked by the libraries
 * that use them.
 */
const passkeyJson = z.record(z.string(), z.unknown());
export const askPasskey = defineRoute({
  method: 'POST',
  path: '/api/sign-in/passkey/options',
  about: 'Starts signing in with a passkey.',
  right: 'anyone',
  answer: passkeyJson,
});
export const signInByPasskey = defineRoute({
  method: 'POST',
  path: '/api/sign-in/passkey',
  about: 'Signs in with a passkey.',
  right: 'anyone',
  body: z.object({ response: passkeyJson }),
  answer: ok,
});
export const signOut = defineRoute({
  method: 'POST',
  path: '/api/sign-out',
  about: 'Signs out.',
  right: 'anyone',
  answer: ok,
});
export const forgotten = defineRoute({
  method: 'POST',
  path: '/api/sign-in/forgotten',
  about: 'Emails a link to set a new password.',
  right: 'anyone',
  body: z.object({ email: mailAddress }),
  answer: ok,
});
const token = z.object({ token: z.string().min(1).max(100) });
export const viewWelcome = defineRoute({
  method: 'GET',
  path: '/api/welcome/{token}',
  about: 'What an invitation or password link is for.',
  right: 'anyone',
  params: token,
  answer: z.strictObject({
    kind: z.enum(['first', 'invitation', 'reset']),
    email: z.string(),
    name: z.string(),
    by: z.string(),
  }),
});
export const takeWelcome = defineRoute({
  method: 'POST',
  path: '/api/welcome/{token}',
  about: 'Accepts an invitation or uses a password link, and sets a password.',
  right: 'anyone',
  params: token,
  body: z.object({
    name: nameOf('yourself', 80).optional(),
    email: mailAddress.optional(),
    password,
  }),
  answer: ok,
});

export const sessionViewSchema = z.strictObject({
  id: z.string(),
  /** The client's description of itself. */
  agent: z.string(),
  begun: when,
  used: when,
  here: z.boolean(),
});
export const passkeyViewSchema = z.strictObject({
  id: z.string(),
  name: z.string(),
  made: when.nullable(),
});
export const viewSignIn = defineRoute({
  method: 'GET',
  path: '/api/me/sign-in',
  about: 'Where you are signed in, and with what.',
  right: 'signed-in',
  answer: z.strictObject({
    sessions: z.array(sessionViewSchema),
    passkeys: z.array(passkeyViewSchema),
    secondFactor: z.boolean(),
    /**
     * Whether passkeys can be created under this name; a browser stores none for an IP address.
     */
    passkeysHere: z.boolean(),
  }),
});
export type SignInView = z.infer<(typeof viewSignIn)['answer']>;
export const endSession = defineRoute({
  method: 'DELETE',
  path: '/api/me/sessions/{id}',
  about: 'Signs out one of your browsers.',
  right: 'signed-in',
  params: byText,
  answer: ok,
});
export const endOtherSessions = defineRoute({
  method: 'DELETE',
  path: '/api/me/sessions',
  about: 'Signs out everywhere else.',
  right: 'signed-in',
  answer: ok,
});
export const changePassword = defineRoute({
  method: 'POST',
  path: '/api/me/password',
  about: 'Changes the own password.',
  right: 'signed-in',
  body: z.object({ now: password, next: password }),
  answer: ok,
});
export const newPasskeyOptions = defineRoute({
  method: 'POST',
  path: '/api/me/passkeys/options',
  about: 'Starts adding a passkey.',
  right: 'signed-in',
  answer: passkeyJson,
});
export const addPasskey = defineRoute({
  method: 'POST',
  path: '/api/me/passkeys',
  about: 'Adds a passkey.',
  right: 'signed-in',
  body: z.object({ name: nameOf('the passkey', 60), response: passkeyJson }),
  answer: ok,
});
export const removePasskey = defineRoute({
  method: 'DELETE',
  path: '/api/me/passkeys/{id}',
  about: 'Removes a passkey.',
  right: 'signed-in',
  params: byText,
  answer: ok,
});
export const startSecondFactor = defineRoute({
  method: 'POST',
  path: '/api/me/second-factor',
  about: 'Starts turning on two-step sign-in.',
  right: 'signed-in',
  body: z.object({ password }),
  answer: z.strictObject({
    /** For the app (otpauth, RFC 6238). */
    address: z.string(),
    spares: z.array(z.string()),
  }),
});
export const confirmSecondFactor = defineRoute({
  method: 'POST',
  path: '/api/me/second-factor/confirm',
  about: 'Turns on two-step sign-in.',
  right: 'signed-in',
  body: z.object({ code: z.string().trim().min(4, 'Give the code.').max(12) }),
  answer: ok,
});
export const stopSecondFactor = defineRoute({
  method: 'DELETE',
  path: '/api/me/second-factor',
  about: 'Turns off two-step sign-in.',
  right: 'signed-in',
  body: z.object({ password }),
  answer: ok,
});

const shareSchema = z.strictObject({
  person: z.string(),
  name: z.string(),
  email: z.string(),
  right: z.enum(sharedRights),
});
export const personInListSchema = personSchema.extend({
  ended: z.boolean(),
  secondFactor: z.boolean(),
  /** When they were last seen; null if they are signed in nowhere. */
  seen: when.nullable(),
});
export const welcomeViewSchema = z.strictObject({
  /** The id with which it is cancelled; it opens nothing. */
  id: z.string(),
  email: z.string(),
  name: z.string(),
  right: rightSchema,
  by: z.string(),
  until: when,
});
export const listPeople = defineRoute({
  method: 'GET',
  path: '/api/people',
  about: 'The people and the invitations.',
  right: 'administrator',
  answer: z.strictObject({
    people: z.array(personInListSchema),
    invited: z.array(welcomeViewSchema),
  }),
});
export type PeopleView = z.infer<(typeof listPeople)['answer']>;
const welcomeMade = z.strictObject({
  /** The sign-in link that works once; returned this one time. */
  address: z.string(),
  mailed: z.boolean(),
});
export const invite = defineRoute({
  method: 'POST',
  path: '/api/people',
  about: 'Invites someone.',
  right: 'administrator',
  body: z.object({
    email: mailAddress,
    name: nameOf('the person', 80),
    right: rightSchema,
    mail: z.boolean(),
  }),
  answer: welcomeMade,
});
export const changePerson = defineRoute({
  method: 'PATCH',
  path: '/api/people/{id}',
  about: 'Changes the role of a person, or deactivates or reactivates them.',
  right: 'administrator',
  params: byText,
  body: z.object({ right: rightSchema.optional(), ended: z.boolean().optional() }),
  answer: ok,
});
export const resetPerson = defineRoute({
  method: 'POST',
  path: '/api/people/{id}/reset',
  about: 'Creates a link with which someone sets a new password.',
  right: 'administrator',
  params: byText,
  body: z.object({ mail: z.boolean() }),
  answer: welcomeMade,
});
export const takeBackInvitation = defineRoute({
  method: 'DELETE',
  path: '/api/invitations/{id}',
  about: 'Cancels an invitation.',
  right: 'administrator',
  params: z.object({ id: z.string().regex(/^[0-9a-f]{64}$/) }),
  answer: ok,
});

const sharesSchema = z.strictObject({
  shares: z.array(shareSchema),
  /** People with whom it could be shared: those who cannot see or change it by their role. */
  others: z.array(personSchema),
});
export type SharesView = z.infer<typeof sharesSchema>;
const shareChange = z.object({
  person: idText,
  /** Null: no longer. */
  right: z.enum(sharedRights).nullable(),
});
export const jobShares = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/shares',
  about: 'Who a job is shared with.',
  right: 'editor',
  of: 'job',
  params: byId,
  answer: sharesSchema,
});
export const shareJob = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/shares',
  about: 'Shares a job with someone, or stops sharing it.',
  right: 'editor',
  of: 'job',
  params: byId,
  body: shareChange,
  answer: sharesSchema,
});
export const listShares = defineRoute({
  method: 'GET',
  path: '/api/lists/{id}/shares',
  about: 'Who a list is shared with.',
  right: 'editor',
  of: 'list',
  params: byId,
  answer: sharesSchema,
});
export const shareList = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/shares',
  about: 'Shares a list and its jobs with someone, or stops sharing them.',
  right: 'editor',
  of: 'list',
  params: byId,
  body: shareChange,
  answer: sharesSchema,
});

export const journalLineSchema = z.strictObject({
  id: z.number(),
  at: when,
  who: z.string(),
  what: z.string(),
  about: z.string(),
  list: z.number().nullable(),
  job: z.number().nullable(),
  request: z.string(),
  outcome: z.string().nullable(),
});
export type JournalLine = z.infer<typeof journalLineSchema>;
const journalAsked = z.object({
  q: z.string().trim().max(200).optional(),
  from: z.iso.date().optional(),
  until: z.iso.date().optional(),
  job: number.optional(),
  list: number.optional(),
});
export const viewJournal = defineRoute({
  method: 'GET',
  path: '/api/journal',
  about: 'The journal: what was done, when and by which person, latest first.',
  right: 'administrator',
  query: journalAsked.extend({ before: z.coerce.number().int().min(1).optional() }),
  answer: z.strictObject({ lines: z.array(journalLineSchema), more: z.boolean() }),
});
export const journalFile = defineRoute({
  method: 'GET',
  path: '/api/journal/file',
  about: 'The journal, or the entries that were searched, as a file.',
  right: 'administrator',
  query: journalAsked,
  answer: { files: ['text/csv; charset=utf-8'] },
});

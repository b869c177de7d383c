import * as z from 'zod';
import { keyRights } from '../core/access/keys';
import { byId, nameOf, number, ok, when } from './common';
import { defineRoute } from './route';

export const keyViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  ending: z.string(),
  rights: z.array(z.enum(keyRights)),
  list: z.strictObject({ id: z.number(), name: z.string() }).nullable(),
  ends: z.string().nullable(),
  used: when.nullable(),
  by: z.string(),
  at: when,
});
export type KeyView = z.infer<typeof keyViewSchema>;

export const listKeys = defineRoute({
  method: 'GET',
  path: '/api/keys',
  right: 'administrator',
  about: 'The API keys, without the keys themselves.',
  answer: z.strictObject({ keys: z.array(keyViewSchema) }),
});
export const makeKey = defineRoute({
  method: 'POST',
  path: '/api/keys',
  right: 'administrator',
  about: 'Creates an API key for a program. The key is shown once.',
  body: z.object({
    name: nameOf('the key'),
    rights: z.array(z.enum(keyRights)).min(1, 'Choose what it may do.'),
    list: number.nullable(),
    ends: z.iso.date('Write the day as 2026-11-23.').nullable(),
  }),
  answer: z.strictObject({ key: z.string(), view: keyViewSchema }),
});
export const endKey = defineRoute({
  method: 'DELETE',
  path: '/api/keys/{id}',
  right: 'administrator',
  about: 'Revokes an API key.',
  params: byId,
  answer: ok,
});

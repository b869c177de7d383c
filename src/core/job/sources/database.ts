import * as z from 'zod';
import { type Begun, defineAsked, defineSource } from './source';

export const database = defineSource({
  schema: z.object({
    kind: z.literal('database'),
    connection: z.number().int(),
    query: z.string().min(1).max(20_000),
    name: z.string(),
  }),
  about: 'database',
  where: ', a database',
  readsItself: () => true,
  sheets: false,
});

export const databaseAsked = defineAsked({
  schema: z.object({
    kind: z.literal('database'),
    connection: z.number().int(),
    query: z.string().trim().min(1, 'Choose a table, or write a query.').max(20_000),
    name: z.string().max(120),
  }),
  begin: (wanted): Begun<z.output<typeof database.schema>> => ({ origin: wanted }),
});

import * as z from 'zod';
import { defineSource } from './source';

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

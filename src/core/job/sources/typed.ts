import * as z from 'zod';
import { defineSource } from './source';

export const typed = defineSource({
  schema: z.object({ kind: z.literal('typed') }),
  about: 'typed here',
  where: '',
  readsItself: () => false,
  gone: true,
  sheets: false,
});

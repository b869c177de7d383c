import * as z from 'zod';
import { defineSource, sheet } from './source';

export const paste = defineSource({
  schema: z.object({ kind: z.literal('paste'), ...sheet }),
  about: '',
  where: '',
  readsItself: () => false,
  sheets: true,
});

import * as z from 'zod';
import { defineSource, sheet } from './source';

export const file = defineSource({
  schema: z.object({ kind: z.literal('file'), name: z.string(), ...sheet }),
  about: '',
  where: '',
  readsItself: () => false,
  sheets: true,
});

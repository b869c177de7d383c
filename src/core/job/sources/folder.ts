import * as z from 'zod';
import { defineSource } from './source';

/** A folder of files, one record each: of the In-tray, or of the coordinator's own machine. */
export const folder = defineSource({
  schema: z.object({
    kind: z.literal('folder'),
    name: z.string(),
    base: z.string().max(500),
    tray: z.boolean(),
  }),
  about: 'folder',
  where: ', a folder',
  readsItself: (origin) => origin.tray,
  sheets: false,
  inTray: (origin, name) => origin.tray && origin.name === name,
});

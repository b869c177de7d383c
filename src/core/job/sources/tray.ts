import * as z from 'zod';
import { type Begun, defineAsked, defineSource, sheet } from './source';

/** A file of the In-tray, read again whenever it is saved. */
export const tray = defineSource({
  schema: z.object({
    kind: z.literal('tray'),
    name: z.string(),
    ...sheet,
    takes: z.boolean(),
  }),
  about: 'In-tray, updated when saved',
  where: ' in the In-tray',
  readsItself: () => true,
  sheets: true,
  inTray: (origin, name) => origin.name === name,
  takes: (origin) => origin.takes,
});

export const trayAsked = defineAsked({
  schema: z.object({ kind: z.literal('tray'), name: z.string().max(300) }),
  begin: (wanted): Begun<z.output<typeof tray.schema>> => ({
    origin: { ...wanted, headerRow: 0, takes: false },
  }),
});

import * as z from 'zod';
import { folderRows } from '../../records/folder';
import { type Begun, defineAsked, defineSource } from './source';

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

type Folder = z.output<typeof folder.schema>;

/** A folder of the coordinator's own computer: its contents are sent along. */
export const folderAsked = defineAsked({
  schema: z.object({
    kind: z.literal('folder'),
    name: z.string().max(300),
    base: z.string().max(500),
    files: z
      .array(
        z.object({ path: z.string().max(1000), size: z.number(), changed: z.string().max(40) }),
      )
      .max(20_000, 'This is more than 20,000 files. Choose fewer at a time.'),
    list: z.number().int().optional(),
  }),
  begin: ({ files, list, ...origin }): Begun<Folder> => ({
    origin: { ...origin, tray: false },
    rows: folderRows(files, origin.base),
    list,
  }),
});

export const trayFolderAsked = defineAsked({
  schema: z.object({
    kind: z.literal('tray-folder'),
    name: z.string().max(300),
    base: z.string().max(500),
  }),
  begin: (wanted): Begun<Folder> => ({ origin: { ...wanted, kind: 'folder', tray: true } }),
});

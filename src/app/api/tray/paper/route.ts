import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listPaperFiles } from '@/server/runs';
import { printedFolder } from '@/server/sources';

export const GET = handle(contract.listTrayPaper, async ({ db }) => ({
  folder: printedFolder() ?? null,
  files: await listPaperFiles(db, 'tray'),
}));

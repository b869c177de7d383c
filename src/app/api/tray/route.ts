import * as contract from '@/contract';
import { handle } from '@/server/access';
import { trayEntries, trayFolder, trayOthers } from '@/server/sources';

export const GET = handle(contract.viewTray, async () => ({
  folder: trayFolder() ?? null,
  entries: await trayEntries(),
  others: await trayOthers(),
}));

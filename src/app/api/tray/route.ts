import { route } from '@/server/platform';
import { trayEntries, trayFolder } from '@/server/sources';

export const GET = route(async () => ({
  folder: trayFolder() ?? null,
  entries: await trayEntries(),
}));

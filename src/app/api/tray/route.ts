import { route } from '@/server/platform/http';
import { trayEntries, trayFolder } from '@/server/sources/tray';

export const GET = route(async () => ({ folder: trayFolder() ?? null, entries: await trayEntries() }));

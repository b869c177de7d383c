import * as contract from '@/contract';
import { handle } from '@/server/access';
import { trayPdfs } from '@/server/sources';

export const GET = handle(contract.listTrayPdfs, async () => ({ names: await trayPdfs() }));

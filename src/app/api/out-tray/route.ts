import * as contract from '@/contract';
import { handle } from '@/server/access';
import { viewOutTray } from '@/server/delivery';

export const GET = handle(contract.viewOutTray, async () => viewOutTray());

import * as contract from '@/contract';
import { viewOutTray } from '@/server/delivery';
import { handle } from '@/server/platform';

export const GET = handle(contract.viewOutTray, async () => viewOutTray());

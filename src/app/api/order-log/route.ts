import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listFirings } from '@/server/orders';

export const GET = handle(contract.listFirings, ({ db, query }) => listFirings(db, query));

import * as contract from '@/contract';
import { handle, viewJournal } from '@/server/access';

export const GET = handle(contract.viewJournal, async ({ db, query }) => viewJournal(db, query));

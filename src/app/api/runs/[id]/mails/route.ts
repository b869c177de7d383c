import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listMails } from '@/server/delivery';

export const GET = handle(contract.listMails, async ({ db, params }) => ({
  mails: await listMails(db, params.id),
}));

import * as contract from '@/contract';
import { listMails } from '@/server/delivery';
import { handle } from '@/server/platform';

export const GET = handle(contract.listMails, async ({ db, params }) => ({
  mails: await listMails(db, params.id),
}));

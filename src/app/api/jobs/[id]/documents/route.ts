import * as contract from '@/contract';
import { handle } from '@/server/access';
import { documentsCame, pdfsInJob } from '@/server/documents';
import { rejudgePiece } from '@/server/judging';

export const GET = handle(contract.listPdfs, ({ db, params }) => pdfsInJob(db, params.id));
export const POST = handle(contract.lookAgain, async ({ db, params }) => {
  await documentsCame(db, params.id);
  await rejudgePiece(db, params.id);
  return contract.done;
});

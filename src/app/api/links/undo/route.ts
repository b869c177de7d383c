import * as contract from '@/contract';
import { handle } from '@/server/access';
import { undoLinks } from '@/server/links';

export const POST = handle(contract.undoLinks, async ({ db, body, actor }) =>
  undoLinks(db, body.batch, actor),
);

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { readFromPaper } from '@/server/runs';

export const POST = handle(contract.readPaper, async ({ db, params, body, actor }) => ({
  pictures: await readFromPaper(db, params.id, body.pictures, actor),
}));

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listPicture } from '@/server/lists';

export const GET = handle(contract.viewListPicture, async ({ db, params, query }) => ({
  picture: (await listPicture(db, params.id, query.name)) ?? null,
}));

import * as contract from '@/contract';
import { listPicture } from '@/server/lists';
import { handle } from '@/server/platform';

export const GET = handle(contract.viewListPicture, async ({ db, params, query }) => ({
  picture: (await listPicture(db, params.id, query.name)) ?? null,
}));

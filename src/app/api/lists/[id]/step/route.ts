import * as contract from '@/contract';
import { handle } from '@/server/access';
import { stepBack } from '@/server/lists';

export const POST = handle(contract.stepList, async ({ db, params, body, actor }) => ({
  did: (await stepBack(db, params.id, body.direction, actor)) ?? null,
}));

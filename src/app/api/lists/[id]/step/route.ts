import * as contract from '@/contract';
import { stepBack } from '@/server/lists';
import { handle } from '@/server/platform';

export const POST = handle(contract.stepList, async ({ db, params, body, actor }) => ({
  did: (await stepBack(db, params.id, body.direction, actor)) ?? null,
}));

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { filmFor } from '@/server/checkpoints';

export const GET = handle(contract.checkpointFilm, async ({ db, params }) => ({
  codes: await filmFor(db, params.id),
}));

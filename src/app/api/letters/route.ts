import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listLetters } from '@/server/delivery';

export const GET = handle(contract.listLetters, async ({ db }) => ({
  letters: await listLetters(db),
}));

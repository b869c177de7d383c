import * as contract from '@/contract';
import { listLetters } from '@/server/delivery';
import { handle } from '@/server/platform';

export const GET = handle(contract.listLetters, async ({ db }) => ({
  letters: await listLetters(db),
}));

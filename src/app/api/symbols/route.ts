import * as contract from '@/contract';
import { handle } from '@/server/access';
import { sealedSymbols } from '@/server/jobs';

export const POST = handle(contract.sealedSymbols, async ({ db, person, body }) => ({
  symbols: await sealedSymbols(db, body.records, body.stamp, person),
}));

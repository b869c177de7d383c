import * as contract from '@/contract';
import { sealedSymbols } from '@/server/jobs';
import { handle } from '@/server/platform';

export const POST = handle(contract.sealedSymbols, async ({ db, body }) => ({
  symbols: await sealedSymbols(db, body.records, body.stamp),
}));

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { standInProgram } from '@/server/platform';

export const GET = handle(contract.viewStandInProgram, async ({ db }) => ({
  program: await standInProgram(db),
}));

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { checkHealth, warmUp } from '@/server/platform';

export const GET = handle(contract.health, async () => {
  warmUp();
  await checkHealth();
  return contract.done;
});

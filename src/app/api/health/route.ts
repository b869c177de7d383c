import * as contract from '@/contract';
import { handle } from '@/server/access';
import { checkHealth, warmUp } from '@/server/platform';

export const GET = handle(contract.health, async ({ query }) => {
  if (query.only === 'live') return contract.done;
  warmUp();
  await checkHealth();
  return contract.done;
});

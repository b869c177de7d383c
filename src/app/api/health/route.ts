import * as contract from '@/contract';
import { checkHealth, handle, warmUp } from '@/server/platform';

export const GET = handle(contract.health, async () => {
  warmUp();
  await checkHealth();
  return contract.done;
});

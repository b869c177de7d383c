import * as contract from '@/contract';
import { handle, checkHealth } from '@/server/platform';

export const GET = handle(contract.health, async () => {
  await checkHealth();
  return contract.done;
});

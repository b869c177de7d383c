import * as contract from '@/contract';
import { handle } from '@/server/access';
import { takeBack } from '@/server/checkpoints';

export const POST = handle(contract.takeBackScan, async ({ db, params, body, device, actor }) => {
  await takeBack(db, params.id, { device: device?.id ?? null, who: actor }, body);
  return contract.done;
});

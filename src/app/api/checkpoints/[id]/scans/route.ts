import * as contract from '@/contract';
import { handle } from '@/server/access';
import { takeScans } from '@/server/checkpoints';

export const POST = handle(contract.scanCodes, async ({ db, params, body, device, actor }) => ({
  answers: await takeScans(
    db,
    params.id,
    { device: device?.id ?? null, who: actor },
    body.scans,
    body,
  ),
}));

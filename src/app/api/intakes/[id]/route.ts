import * as contract from '@/contract';
import { handle } from '@/server/access';
import { waitsBehind } from '@/server/runs';
import { dropIntake, viewIntake } from '@/server/sources';

export const GET = handle(contract.viewIntake, async ({ db, params }) => {
  const intake = await viewIntake(db, params.id);
  return intake.state === 'waiting'
    ? { ...intake, waits: await waitsBehind(db, intake.id) }
    : intake;
});

export const DELETE = handle(contract.dropIntake, async ({ db, params }) => {
  await dropIntake(db, params.id);
  return contract.done;
});

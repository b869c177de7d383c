import * as contract from '@/contract';
import { handle, startSecondFactor, stopSecondFactor } from '@/server/access';

export const POST = handle(contract.startSecondFactor, async (asked) =>
  startSecondFactor(asked, asked.person, asked.body.password),
);

export const DELETE = handle(contract.stopSecondFactor, async (asked) => {
  await stopSecondFactor(asked, asked.person, asked.body.password);
  return contract.done;
});

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { joinDevice } from '@/server/checkpoints';

export const POST = handle(contract.joinCheckpoint, async ({ db, body, answerHeaders }) => {
  const { checkpoint, cookie } = await joinDevice(db, body.token);
  answerHeaders.append('set-cookie', cookie);
  return { checkpoint };
});

import * as contract from '@/contract';
import { handle, signInByPassword, standInsFor } from '@/server/access';

export const GET = handle(contract.viewStandIns, async ({ db, request }) => ({
  standIns: await standInsFor(db, request.headers),
}));

export const POST = handle(contract.signIn, async (asked) => signInByPassword(asked, asked.body));

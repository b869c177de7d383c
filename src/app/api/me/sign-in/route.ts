import * as contract from '@/contract';
import { handle, viewSignIn } from '@/server/access';

export const GET = handle(contract.viewSignIn, async (asked) => viewSignIn(asked, asked.person));

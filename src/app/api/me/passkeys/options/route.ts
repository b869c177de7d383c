import * as contract from '@/contract';
import { handle, newPasskeyOptions } from '@/server/access';

export const POST = handle(contract.newPasskeyOptions, async (asked) => newPasskeyOptions(asked));

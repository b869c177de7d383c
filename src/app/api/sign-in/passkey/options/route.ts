import * as contract from '@/contract';
import { handle, passkeyOptions } from '@/server/access';

export const POST = handle(contract.askPasskey, async (asked) => passkeyOptions(asked));

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { openApi } from '@/server/api';
import { baseAddress } from '@/server/platform';

export const GET = handle(contract.apiDocument, async ({ db }) =>
  Response.json(openApi(await baseAddress(db))),
);

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { pageOfRecord } from '@/server/documents';
import { lockedPage } from '@/server/platform';

export const GET = handle(contract.pageOfRecord, async ({ db, params }) =>
  lockedPage(await pageOfRecord(db, params.id, params.record)),
);

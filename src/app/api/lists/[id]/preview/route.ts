import * as contract from '@/contract';
import { handle } from '@/server/access';
import { previewWorked } from '@/server/lists';

export const POST = handle(contract.previewWorked, async ({ db, params, body }) =>
  previewWorked(db, params.id, body),
);

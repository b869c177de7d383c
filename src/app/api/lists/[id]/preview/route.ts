import * as contract from '@/contract';
import { previewWorked } from '@/server/lists';
import { handle } from '@/server/platform';

export const POST = handle(contract.previewWorked, async ({ db, params, body }) =>
  previewWorked(db, params.id, body),
);

import * as contract from '@/contract';
import { revisionRows, turnRevision } from '@/server/lists';
import { handle } from '@/server/platform';

export const GET = handle(contract.viewRevision, async ({ db, params, query }) =>
  revisionRows(db, params.id, params.number, query.from),
);

export const POST = handle(contract.turnRevision, async ({ db, params, body, actor }) => ({
  did: await turnRevision(db, params.id, params.number, body.direction, actor),
}));

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { revisionRows, turnRevision } from '@/server/lists';

export const GET = handle(contract.viewRevision, async ({ db, params, query }) =>
  revisionRows(db, params.id, params.number, query.from),
);

export const POST = handle(contract.turnRevision, async ({ db, params, body, actor }) => ({
  did: await turnRevision(db, params.id, params.number, body.direction, actor),
}));

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { keepConnection, listConnections } from '@/server/sources';

export const GET = handle(contract.listConnections, async ({ db }) => ({
  connections: await listConnections(db),
}));

export const POST = handle(contract.keepConnection, async ({ db, body, actor }) => ({
  id: await keepConnection(db, body, actor),
}));

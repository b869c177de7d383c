import { body, route } from '@/server/platform';
import { connectionSchema, keepConnection, listConnections } from '@/server/sources';

export const GET = route(async ({ db }) => ({ connections: await listConnections(db) }));

export const POST = route(async (asked) => ({
  id: await keepConnection(asked.db, await body(asked, connectionSchema), asked.actor),
}));

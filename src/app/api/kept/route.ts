import { z } from 'zod';
import { body, route } from '@/server/platform';
import { keep, keepSchema, listKept } from '@/server/jobs';

export const GET = route(async ({ db, query }) => ({
  kept: await listKept(db, z.enum(['look', 'content', 'piece', 'stock']).parse(query.get('kind'))),
}));

export const POST = route(async (asked) => ({
  id: await keep(asked.db, await body(asked, keepSchema, 'document'), asked.actor),
}));

import { z } from 'zod';
import { body, numberParam, route } from '@/server/platform';
import { revisionRows, turnRevision } from '@/server/lists';

export const GET = route(async (asked) =>
  revisionRows(
    asked.db,
    numberParam(asked),
    numberParam(asked, 'number'),
    Number(asked.query.get('from') ?? 0) || 0,
  ),
);

export const POST = route(async (asked) => {
  const { direction } = await body(asked, z.object({ direction: z.enum(['undo', 'redo']) }));
  return {
    did: await turnRevision(
      asked.db,
      numberParam(asked),
      numberParam(asked, 'number'),
      direction,
      asked.actor,
    ),
  };
});

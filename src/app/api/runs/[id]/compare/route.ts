import { z } from 'zod';
import { numberParam, route } from '@/server/platform';
import { compareRuns } from '@/server/runs';

export const GET = route(async (asked) =>
  compareRuns(asked.db, z.coerce.number().int().parse(asked.query.get('with')), numberParam(asked)),
);

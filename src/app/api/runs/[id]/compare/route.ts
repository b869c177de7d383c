import { z } from 'zod';
import { numberParam, route } from '@/server/platform/http';
import { compareRuns } from '@/server/runs/run-views';

export const GET = route(async (asked) =>
  compareRuns(asked.db, z.coerce.number().int().parse(asked.query.get('with')), numberParam(asked)),
);

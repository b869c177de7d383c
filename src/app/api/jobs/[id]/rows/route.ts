import { numberParam, route } from '@/server/platform';
import { ledgerRows, rowsQuerySchema } from '@/server/jobs';

export const GET = route(async (asked) =>
  ledgerRows(asked.db, numberParam(asked), rowsQuerySchema.parse(Object.fromEntries(asked.query))),
);

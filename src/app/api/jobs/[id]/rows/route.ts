import { numberParam, route } from '@/server/platform/http';
import { ledgerRows, rowsQuerySchema } from '@/server/jobs/jobs';

export const GET = route(async (asked) => ledgerRows(asked.db, numberParam(asked), rowsQuerySchema.parse(Object.fromEntries(asked.query))));

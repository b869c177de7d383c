import { numberParam, route } from '@/server/http';
import { ledgerRows, rowsQuerySchema } from '@/server/jobs';

export const GET = route(async (asked) => ledgerRows(asked.db, numberParam(asked), rowsQuerySchema.parse(Object.fromEntries(asked.query))));

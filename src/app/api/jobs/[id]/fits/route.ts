import { symbologyFits } from '@/server/jobs/fits';
import { numberParam, route } from '@/server/platform/http';

export const GET = route(async (asked) => symbologyFits(asked.db, numberParam(asked), asked.query.get('stamp') ?? ''));

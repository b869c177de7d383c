import { symbologyFits } from '@/server/fits';
import { numberParam, route } from '@/server/http';

export const GET = route(async (asked) => symbologyFits(asked.db, numberParam(asked), asked.query.get('stamp') ?? ''));

import { symbologyFits } from '@/server/jobs';
import { numberParam, route } from '@/server/platform';

export const GET = route(async (asked) =>
  symbologyFits(asked.db, numberParam(asked), asked.query.get('stamp') ?? ''),
);

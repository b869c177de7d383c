import { z } from 'zod';
import { stampSchema } from '@/core/payload/stamp';
import { body, route } from '@/server/platform';
import { sealedSymbols } from '@/server/jobs';

const asked = z.object({ stamp: stampSchema, records: z.array(z.number().int()).min(1).max(200) });

/** The symbols of a stamp for records whose values are kept back: their modules, and never what they say. */
export const POST = route(async (request) => {
  const { stamp, records } = await body(request, asked, 'document');
  return { symbols: await sealedSymbols(request.db, records, stamp) };
});

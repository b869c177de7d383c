import { z } from 'zod';
import { stampSchema } from '@/core/payload/stamp';
import { body, numberParam, route } from '@/server/http';
import { sealedSymbol } from '@/server/sealed-symbol';

/** The symbol of a stamp for a record whose values are kept back: its modules, and never what they say. */
export const POST = route(async (asked) => {
  const { stamp } = await body(asked, z.object({ stamp: stampSchema }));
  return sealedSymbol(asked.db, numberParam(asked), stamp);
});

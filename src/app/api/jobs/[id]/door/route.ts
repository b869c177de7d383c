import { z } from 'zod';
import { doorReport, startAsking, stopAsking } from '@/server/links';
import { body, numberParam, route } from '@/server/platform';

export const GET = route(async (asked) =>
  doorReport(asked.db, numberParam(asked), asked.query.get('stamp') ?? ''),
);

/** Asks the addresses of a stamp, with the user's leave. */
export const POST = route(async (asked) => {
  const { stamp } = await body(asked, z.object({ stamp: z.string() }));
  await startAsking(asked.db, numberParam(asked), stamp);
  return { ok: true };
});

export const DELETE = route(async (asked) => {
  await stopAsking(asked.db, numberParam(asked));
  return { ok: true };
});

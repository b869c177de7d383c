import { route } from '@/server/platform';
import { blankSheet, sheetSchema } from '@/server/jobs';

const types = {
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  csv: 'text/csv; charset=utf-8',
};

/** A blank sheet to take away. */
export const GET = route(async ({ query }) => {
  const wanted = sheetSchema.parse(Object.fromEntries(query));
  const bytes = await blankSheet(wanted);
  return new Response(Buffer.from(bytes), {
    headers: {
      'content-type': types[wanted.as],
      'content-disposition': `attachment; filename="records-${wanted.purpose}.${wanted.as}"`,
    },
  });
});

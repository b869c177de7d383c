import { numberParam, route } from '@/server/platform';
import { testPage } from '@/server/delivery';

export const GET = route(async (asked) => {
  const bytes = await testPage(asked.db, numberParam(asked));
  return new Response(Buffer.from(bytes), {
    headers: {
      'content-type': 'application/pdf',
      'content-disposition': 'inline; filename="test-page.pdf"',
    },
  });
});

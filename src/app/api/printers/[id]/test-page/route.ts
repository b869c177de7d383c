import { numberParam, route } from '@/server/http';
import { testPage } from '@/server/printers';

export const GET = route(async (asked) => {
  const bytes = await testPage(asked.db, numberParam(asked));
  return new Response(Buffer.from(bytes), {
    headers: { 'content-type': 'application/pdf', 'content-disposition': 'inline; filename="test-page.pdf"' },
  });
});

import { z } from 'zod';
import { numberParam, route, streamed } from '@/server/platform';
import { receiptCsv, receiptLines, receiptPdf, viewRun } from '@/server/runs';

/** The receipt of a run: as lines for the screen, or to take away as CSV, JSON or one page of PDF. */
export const GET = route(async (asked) => {
  const id = numberParam(asked);
  const as = z.enum(['csv', 'json', 'pdf']).parse(asked.query.get('as') ?? 'json');
  const { frozen, name } = await asked.db
    .selectFrom('runs')
    .select(['frozen', 'name'])
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  const headers = (type: string) => ({
    'content-type': type,
    'content-disposition': `attachment; filename="receipt-${id}.${as}"`,
  });
  if (as === 'pdf')
    return new Response(Buffer.from(await receiptPdf(asked.db, id)), {
      headers: headers('application/pdf'),
    });
  if (as === 'csv') {
    return new Response(streamed(receiptCsv(asked.db, id, frozen)), {
      headers: headers('text/csv; charset=utf-8'),
    });
  }
  const { pieces, sheets, codes, read, failed, leftOut, created, finished } = await viewRun(
    asked.db,
    id,
  );
  const receipt = {
    run: id,
    name,
    created,
    finished,
    pieces,
    sheets,
    codes,
    read,
    failed,
    leftOut,
  };
  async function* json() {
    // the lines one by one, so that a long receipt is never whole in memory
    yield Buffer.from(`${JSON.stringify(receipt, null, 1).slice(0, -2)},\n "lines": [`);
    let before = '\n  ';
    for await (const line of receiptLines(asked.db, id, frozen)) {
      yield Buffer.from(before + JSON.stringify(line));
      before = ',\n  ';
    }
    yield Buffer.from('\n ]\n}\n');
  }
  return new Response(streamed(json()), { headers: headers('application/json') });
});

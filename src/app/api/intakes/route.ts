import { Refusal, route } from '@/server/http';
import { mostBytes, tooLarge } from '@/server/intake/book';
import { enqueue } from '@/server/queue';

/** Takes a file's bytes, its name in the header `x-file-name`; reading happens in a worker process. */
export const POST = route(async ({ request, db, actor }) => {
  const name = decodeURIComponent(request.headers.get('x-file-name') ?? 'records').slice(0, 200);
  const announced = Number(request.headers.get('content-length') ?? 0);
  if (announced > mostBytes) throw tooLarge(name, announced);
  const bytes = Buffer.from(await request.arrayBuffer());
  if (bytes.length > mostBytes) throw tooLarge(name, bytes.length);
  if (bytes.length === 0) throw new Refusal(`${name} is empty: there is not one byte in it.`);
  const id = await db.transaction().execute(async (tx) => {
    const row = await tx
      .insertInto('intakes')
      .values({ file_name: name, bytes, state: 'waiting', created_by: actor })
      .returning('id')
      .executeTakeFirstOrThrow();
    await enqueue(tx, 'intake.read', { intake: row.id });
    return row.id;
  });
  return { id };
});

import { createHash } from 'node:crypto';
import { sql } from 'kysely';
import { type Database, Refusal } from '../platform';
import type { Caller } from './keys';

/**
 * Does what is asked once for its name (`Idempotency-Key`): asked again within a day, it is
 * answered as before. What was refused is forgotten, so that it can be mended and asked again.
 * @param body what is asked, as the contract takes it; undefined where bytes are sent, which their
 *    number stands for
 * @param refused whether an error is a refusal, after which nothing was done
 * @throws Refusal 409 while it is being done, or where nobody knows how it came out; 422 where the
 *    name stands for something else
 */
export async function repeated<T>(
  db: Database,
  request: Request,
  caller: Caller,
  body: unknown,
  refused: (error: unknown) => boolean,
  work: () => Promise<T>,
): Promise<T> {
  const name = request.headers.get('idempotency-key')?.trim();
  if (!name) return work();
  if (name.length > 100) throw new Refusal('An Idempotency-Key has up to 100 characters.');
  const what = [
    request.method,
    new URL(request.url).pathname,
    body ?? request.headers.get('content-length'),
  ];
  const asked = createHash('sha256').update(JSON.stringify(what)).digest('base64url');
  await db
    .deleteFrom('api_repeats')
    .where('created_at', '<', sql<Date>`now() - interval '1 day'`)
    .execute();
  const { numInsertedOrUpdatedRows } = await db
    .insertInto('api_repeats')
    .values({ key_id: caller.id, repeat: name, asked })
    .onConflict((c) => c.doNothing())
    .executeTakeFirstOrThrow();
  if (numInsertedOrUpdatedRows === 0n) return answeredBefore<T>(db, caller, name, asked);
  try {
    const answer = await work();
    await db
      .updateTable('api_repeats')
      .set({ status: 200, answer: JSON.stringify(answer) })
      .where('key_id', '=', caller.id)
      .where('repeat', '=', name)
      .execute();
    return answer;
  } catch (error) {
    if (refused(error))
      await db
        .deleteFrom('api_repeats')
        .where('key_id', '=', caller.id)
        .where('repeat', '=', name)
        .execute();
    throw error;
  }
}

async function answeredBefore<T>(
  db: Database,
  caller: Caller,
  name: string,
  asked: string,
): Promise<T> {
  const before = await db
    .selectFrom('api_repeats')
    .select(['asked', 'status', 'answer'])
    .where('key_id', '=', caller.id)
    .where('repeat', '=', name)
    .executeTakeFirst();
  if (before && before.asked !== asked)
    throw new Refusal('This Idempotency-Key stands for another request. Take a new one.', 422);
  if (!before || before.status === null)
    throw new Refusal(
      'What was asked under this Idempotency-Key is being done, or nobody knows how it came out. Look whether it is there before you ask anew.',
      409,
    );
  return before.answer as T;
}

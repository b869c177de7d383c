import { createHash } from 'node:crypto';
import { sql } from 'kysely';
import { type Database, joined, Refusal } from '../platform';
import type { Caller } from './keys';

/**
 * Does a request once for its name (`Idempotency-Key`). If it is repeated within a day, it gets the
 * first answer again. The name is stored in the transaction of the work, so after a kill both exist
 * or neither. A refused request is forgotten, so that it can be corrected and sent again.
 * @param sent the request: a value, or the bytes of a file
 * @param work runs on the database that it is given
 * @throws Refusal 409 while the first one runs; 422 if the name was used for a different request
 */
export async function repeated<T>(
  db: Database,
  request: Request,
  caller: Caller,
  sent: unknown,
  work: (db: Database) => Promise<T>,
): Promise<T> {
  const name = request.headers.get('idempotency-key')?.trim();
  if (!name) return work(db);
  if (name.length > 100)
    throw new Refusal('An Idempotency-Key may have up to 100 characters. Shorten it.');
  const hash = createHash('sha256').update(
    JSON.stringify([request.method, new URL(request.url).pathname]),
  );
  const asked = hash
    .update(sent instanceof Uint8Array ? sent : JSON.stringify(sent ?? null))
    .digest('base64url');
  return db.transaction().execute(async (tx) => {
    const { rows } = await sql<{ mine: boolean }>`select pg_try_advisory_xact_lock(
      hashtextextended(${`repeat ${caller.id} ${name}`}, 0)) as mine`.execute(tx);
    if (!rows[0]!.mine)
      throw new Refusal(
        'The first request with this Idempotency-Key is still in progress. Try again in a few seconds.',
        409,
      );
    await tx
      .deleteFrom('api_repeats')
      .where('created_at', '<', sql<Date>`now() - interval '1 day'`)
      .execute();
    const before = await tx
      .selectFrom('api_repeats')
      .select(['asked', 'status', 'answer'])
      .where('key_id', '=', caller.id)
      .where('repeat', '=', name)
      .executeTakeFirst();
    if (before && before.asked !== asked)
      throw new Refusal(
        'This Idempotency-Key was used for a different request. Use a new one.',
        422,
      );
    if (before && before.status !== null) return before.answer as T;
    const answer = await work(joined(tx));
    await tx
      .insertInto('api_repeats')
      .values({
        key_id: caller.id,
        repeat: name,
        asked,
        status: 200,
        answer: JSON.stringify(answer),
      })
      .onConflict((c) =>
        c
          .columns(['key_id', 'repeat'])
          .doUpdateSet({ status: 200, answer: JSON.stringify(answer) }),
      )
      .execute();
    return answer;
  });
}

import { textReadingSchema } from '@/core/records/reading';
import { body, enqueue, numberParam, Refusal, route } from '@/server/platform';

/** Has a text read again in another encoding or with another separator; the preview follows. */
export const POST = route(async (asked) => {
  const id = numberParam(asked);
  const reading = await body(asked, textReadingSchema);
  await asked.db.transaction().execute(async (tx) => {
    const intake = await tx
      .selectFrom('intakes')
      .select(['state', 'origin', 'list_id'])
      .where('id', '=', id)
      .forUpdate()
      .executeTakeFirstOrThrow();
    const { origin } = intake;
    if (!['read', 'failed'].includes(intake.state) || intake.list_id !== null)
      throw new Refusal('These records have been brought in already.');
    if (origin?.kind !== 'file' && origin?.kind !== 'paste' && origin?.kind !== 'tray')
      throw new Refusal('What comes from there has no encoding to choose.');
    await tx
      .updateTable('intakes')
      .set({ state: 'waiting', origin: JSON.stringify({ ...origin, reading }), error: null })
      .where('id', '=', id)
      .execute();
    await enqueue(tx, 'intake.read', { intake: id });
  });
  return { ok: true };
});

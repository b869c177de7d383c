import { sameSchema } from '@/core/job/views';
import { body, enqueue, numberParam, Refusal, route } from '@/server/platform';

/** Says what is the same under another heading or in another form; the re-read is compared again with that known. */
export const POST = route(async (asked) => {
  const id = numberParam(asked);
  const same = await body(asked, sameSchema);
  await asked.db.transaction().execute(async (tx) => {
    const changed = await tx
      .updateTable('intakes')
      .set({ state: 'waiting', same: JSON.stringify(same), error: null })
      .where('id', '=', id)
      .where('state', '=', 'read')
      .where('list_id', 'is not', null)
      .returning('id')
      .executeTakeFirst();
    if (!changed) throw new Refusal('This has been taken or set aside already. Read the source again.');
    await enqueue(tx, 'intake.read', { intake: id });
  });
  return { ok: true };
});

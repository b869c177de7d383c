import { body, enqueue, numberParam, Refusal, route } from '@/server/platform';
import { rereadTakeSchema, takeSchema } from '@/core/job/views';

/** Takes what was read: as a new list and its job, or into the list it was compared with. */
export const POST = route(async (asked) => {
  const id = numberParam(asked);
  const take = await body(asked, takeSchema.or(rereadTakeSchema));
  await asked.db.transaction().execute(async (tx) => {
    const changed = await tx
      .updateTable('intakes')
      .set({ state: 'taking', take: JSON.stringify(take), error: null })
      .where('id', '=', id)
      .where('state', 'in', ['read', 'failed'])
      .where((e) => e.or([e('preview', 'is not', null), e('told', 'is not', null)]))
      .returning('id')
      .executeTakeFirst();
    if (!changed) throw new Refusal('These records have been brought in already.');
    await enqueue(tx, 'intake.take', { intake: id });
  });
  return { ok: true };
});

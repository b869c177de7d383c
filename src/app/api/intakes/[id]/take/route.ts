import { body, numberParam, Refusal, route } from '@/server/http';
import { takeSchema } from '@/core/job/views';
import { enqueue } from '@/server/queue';

export const POST = route(async (asked) => {
  const id = numberParam(asked);
  const take = await body(asked, takeSchema);
  await asked.db.transaction().execute(async (tx) => {
    const changed = await tx
      .updateTable('intakes')
      .set({ state: 'taking', take: JSON.stringify(take), error: null })
      .where('id', '=', id)
      .where('state', 'in', ['read', 'failed'])
      .where('preview', 'is not', null)
      .returning('id')
      .executeTakeFirst();
    if (!changed) throw new Refusal('These records have been brought in already.');
    await enqueue(tx, 'intake.take', { intake: id });
  });
  return { ok: true };
});

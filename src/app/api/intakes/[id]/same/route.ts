import { sameSchema } from '@/core/job/views';
import { body, enqueue, numberParam, Refusal, route } from '@/server/platform';
import { sayTheSame } from '@/server/sources';

/** Says what is the same under another heading or in another form; the re-read is compared again with that known. */
export const POST = route(async (asked) => {
  const id = numberParam(asked);
  const same = await body(asked, sameSchema);
  await asked.db.transaction().execute(async (tx) => {
    if (!(await sayTheSame(tx, id, same)))
      throw new Refusal('This has been taken or set aside already. Read the source again.');
    await enqueue(tx, 'intake.read', { intake: id });
  });
  return { ok: true };
});

import { z } from 'zod';
import { body, numberParam, route } from '@/server/platform';
import { editCells } from '@/server/lists';

const schema = z.object({
  edits: z
    .array(
      z.object({
        record: z.number().int(),
        column: z.string().max(40),
        value: z.string().max(20_000, 'A cell holds up to 20,000 characters.'),
        from: z.string().optional(),
      }),
    )
    .min(1)
    .max(5000),
});

export const POST = route(async (asked) => {
  const { edits } = await body(asked, schema, 'records');
  await editCells(asked.db, numberParam(asked), edits, asked.actor);
  return { ok: true };
});

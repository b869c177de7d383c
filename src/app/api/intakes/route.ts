import * as contract from '@/contract';
import { handle } from '@/server/access';
import { bytesOf, fileNameOf, Refusal } from '@/server/platform';
import { askIntake, fetchIntake, tooLarge } from '@/server/sources';

export const POST = handle(contract.startIntake, async ({ request, db, actor, query, body }) => {
  if (body) return { id: await fetchIntake(db, body, actor) };
  const name = fileNameOf(request, 'records');
  const bytes = await bytesOf(request, contract.startIntake.upload.most, (n) => tooLarge(name, n));
  if (bytes.length === 0) throw new Refusal(`${name} is empty: there is not one byte in it.`);
  const pasted = request.headers.get('x-pasted') === 'yes';
  const origin = pasted
    ? ({ kind: 'paste', headerRow: 0 } as const)
    : ({ kind: 'file', name, headerRow: 0 } as const);
  return { id: await askIntake(db, { name, bytes, origin, list: query.list, actor }) };
});

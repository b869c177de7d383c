import { z } from 'zod';
import { folderRows } from '@/core/records/folder';
import { body, bytesOf, fileNameOf, Refusal, route } from '@/server/platform';
import { askIntake, mostBytes, tooLarge } from '@/server/sources';

/** What is fetched and not sent: from the In-tray, from a database, or a list of files. */
const fetched = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('tray'), name: z.string().max(300) }),
  z.object({
    kind: z.literal('tray-folder'),
    name: z.string().max(300),
    base: z.string().max(500),
  }),
  z.object({
    kind: z.literal('database'),
    connection: z.number().int(),
    query: z.string().trim().min(1, 'Choose a table, or write a query.').max(20_000),
    name: z.string().max(120),
  }),
  z.object({
    kind: z.literal('folder'),
    name: z.string().max(300),
    base: z.string().max(500),
    files: z
      .array(
        z.object({ path: z.string().max(1000), size: z.number(), changed: z.string().max(40) }),
      )
      .max(20_000, 'Hand Stamp takes up to 20,000 files at a time.'),
    list: z.number().int().optional(),
  }),
]);

/** Takes a file's bytes, its name in the header `x-file-name`, or says what to fetch; reading happens in a worker process. */
export const POST = route(async (asked) => {
  const { request, db, actor } = asked;
  if (request.headers.get('content-type')?.startsWith('application/json')) {
    const wanted = await body(asked, fetched, 'folder');
    const none = Buffer.alloc(0);
    if (wanted.kind === 'tray')
      return {
        id: await askIntake(db, {
          name: wanted.name,
          bytes: none,
          origin: { ...wanted, headerRow: 0, takes: false },
          actor,
        }),
      };
    if (wanted.kind === 'tray-folder')
      return {
        id: await askIntake(db, {
          name: wanted.name,
          bytes: none,
          origin: { ...wanted, kind: 'folder', tray: true },
          actor,
        }),
      };
    if (wanted.kind === 'database')
      return { id: await askIntake(db, { name: wanted.name, bytes: none, origin: wanted, actor }) };
    const { files, list, ...origin } = wanted;
    const bytes = Buffer.from(JSON.stringify(folderRows(files, origin.base)));
    return {
      id: await askIntake(db, {
        name: origin.name,
        bytes,
        origin: { ...origin, tray: false },
        list,
        actor,
      }),
    };
  }
  const name = fileNameOf(request, 'records');
  const list = Number(asked.query.get('list')) || undefined;
  const bytes = await bytesOf(request, mostBytes, (n) => tooLarge(name, n));
  if (bytes.length === 0) throw new Refusal(`${name} is empty: there is not one byte in it.`);
  const pasted = request.headers.get('x-pasted') === 'yes';
  const origin = pasted
    ? ({ kind: 'paste', headerRow: 0 } as const)
    : ({ kind: 'file', name, headerRow: 0 } as const);
  return { id: await askIntake(db, { name, bytes, origin, list, actor }) };
});

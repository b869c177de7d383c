import * as contract from '@/contract';
import { handle } from '@/server/access';
import { keepPdf } from '@/server/documents';
import { trayPdf } from '@/server/sources';

export const POST = handle(contract.bringTrayPdf, async ({ db, params, body, actor }) =>
  // by its name alone; of one name in two folders the later takes the place of the one before
  keepPdf(
    db,
    params.id,
    body.name.replace(/^.*\//, ''),
    await trayPdf(body.name),
    actor,
    body.password,
  ),
);

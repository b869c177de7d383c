import * as contract from '@/contract';
import { handle } from '@/server/access';
import { rehearse } from '@/server/orders';

export const POST = handle(contract.rehearseOrder, ({ db, params, body }) =>
  rehearse(db, params.id, body),
);

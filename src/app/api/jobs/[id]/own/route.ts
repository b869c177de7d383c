import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changeOwnPage, viewOwnPage } from '@/server/pages';

export const GET = handle(contract.viewOwnPage, async ({ db, params }) =>
  viewOwnPage(db, params.id),
);

export const PUT = handle(contract.changeOwnPage, async ({ db, params, body, actor }) =>
  changeOwnPage(db, params.id, body, actor),
);

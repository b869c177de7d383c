import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changePages, startPages, viewPages } from '@/server/pages';

export const GET = handle(contract.viewPages, async ({ db, params, query }) =>
  viewPages(db, params.id, query.record),
);

export const POST = handle(contract.startPages, async ({ db, params, actor }) =>
  startPages(db, params.id, actor),
);

export const PUT = handle(contract.changePages, async ({ db, params, body, actor }) =>
  changePages(db, params.id, body, actor),
);

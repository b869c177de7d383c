import * as contract from '@/contract';
import { handle } from '@/server/access';
import { paperSheet } from '@/server/runs';

export const GET = handle(contract.paperSheet, ({ db, params, query }) =>
  paperSheet(db, params.id, query.page),
);

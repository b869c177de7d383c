import * as contract from '@/contract';
import { handle, noteShown } from '@/server/access';
import { ledgerRows } from '@/server/jobs';

export const GET = handle(
  contract.jobRows,
  async ({ db, params, query, mayHere, person, number }) => {
    const rows = await ledgerRows(db, params.id, query, await mayHere());
    if (query.reveal)
      await noteShown(db, { person, job: params.id, columns: query.reveal, request: number });
    return rows;
  },
);

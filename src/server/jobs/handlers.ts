import type { Handlers } from '../access';
import { copyJob } from './copy';
import { symbologyFits } from './fits';
import { orderOf } from './order';
import {
  hiddenFrom,
  jump,
  listIdOf,
  viewJob,
  changeJob,
  removeJob,
  ledgerRows,
  listJobs,
  addJob,
} from './jobs';
import { newsStream, Refusal } from '../platform';
import { rightOver, noteShown, seenBy } from '../access';
import { includes } from '../../core/access/rights';
import * as contract from '../../contract';
import { stepJob } from './steps';
import { forgetKept, listKept, keep } from './kept';
import { startTypedList, blankSheet } from './sheets';
import { sealedSymbols } from './sealed-symbol';

const types = {
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  csv: 'text/csv; charset=utf-8',
};

/** The handlers of this module, by route. */
export const jobsHandlers = {
  copyJob: async ({ db, params, person, mayHere }) => ({
    id: await copyJob(db, params.id, person, await mayHere()),
  }),

  symbologyFits: async ({ db, params, query }) => symbologyFits(db, params.id, query.stamp),

  jobRowIds: async ({ db, params, query, mayHere }) => ({
    ids: await orderOf(db, params.id, query, await hiddenFrom(db, params.id, await mayHere())),
  }),

  jumpInJob: async ({ db, params, query, mayHere }) => ({
    index: await jump(db, params.id, query, await mayHere()),
  }),

  jobNews: async (asked) => {
    const {
      db,
      params: { id },
    } = asked;
    return newsStream(asked, new Set([`job:${id}`, `list:${await listIdOf(db, id)}`]), {
      [`here:${id}`]: 'here',
    });
  },

  viewJob: async ({ db, params, mayHere }) => viewJob(db, params.id, await mayHere()),

  changeJob: async ({ db, params, body, actor, person, mayHere }) => {
    const list = await rightOver(db, person, 'list', await listIdOf(db, params.id));
    await changeJob(db, params.id, body, actor, { mayList: includes(list, 'editor') });
    return viewJob(db, params.id, await mayHere());
  },

  removeJob: async ({ db, params, person }) => {
    // with its last job a list goes, so it takes the right to that
    const list = await rightOver(db, person, 'list', await listIdOf(db, params.id));
    if (!includes(list, 'editor'))
      throw new Refusal(
        'This job is shared with you, but its list is not. Ask someone who can edit the list to delete it.',
        403,
      );
    await removeJob(db, params.id);
    return contract.done;
  },

  jobRows: async ({ db, params, query, mayHere, person, number }) => {
    const rows = await ledgerRows(db, params.id, query, await mayHere());
    if (query.reveal)
      await noteShown(db, { person, job: params.id, columns: query.reveal, request: number });
    return rows;
  },

  stepJob: async ({ db, params, body, actor, person, mayHere }) => {
    const mayList = await rightOver(db, person, 'list', await listIdOf(db, params.id));
    const { direction, seen } = body;
    const did = await stepJob(db, params.id, direction, actor, { mayList, seen });
    return { did: did ?? null, job: await viewJob(db, params.id, await mayHere()) };
  },

  listJobs: async ({ db, person }) => ({
    jobs: await listJobs(db, (await seenBy(db, person))?.jobs),
  }),

  forgetKept: async ({ db, params }) => {
    await forgetKept(db, params.id);
    return contract.done;
  },

  listKept: async ({ db, person, query }) => ({
    // a saved content may hold a secret, and helps only people who may change a stamp
    kept:
      query.kind === 'content' && !includes(person.right, 'editor')
        ? []
        : await listKept(db, query.kind),
  }),

  keep: async ({ db, body, actor }) => ({
    id: await keep(db, body, actor),
  }),

  addJob: async ({ db, params, body, actor }) => ({
    id: await addJob(db, params.id, body, actor),
  }),

  startTypedList: async ({ db, body, actor }) => ({
    job: await startTypedList(db, body, actor),
  }),

  blankSheet: async ({ query }) => {
    const bytes = await blankSheet(query);
    return new Response(Buffer.from(bytes), {
      headers: {
        'content-type': types[query.as],
        'content-disposition': `attachment; filename="records-${query.purpose}.${query.as}"`,
      },
    });
  },

  sealedSymbols: async ({ db, person, body }) => ({
    symbols: await sealedSymbols(db, body.records, body.stamp, person),
  }),
} satisfies Partial<Handlers>;

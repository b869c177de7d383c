import type { Handlers } from '../access';
import { takeBack, findRecords, takeScans } from './scanning';
import * as contract from '../../contract';
import { viewBoard, columnSessions } from './board';
import { viewByOneself, changeByOneself, checkInPage, checkInByOneself } from './by-oneself';
import { shutDevice, addDevice, joinDevice } from './devices';
import { filmFor } from './film';
import { includes } from '../../core/access/rights';
import { streamed } from '../platform';
import { logCsv, logBook } from './log';
import { packFor } from './pack';
import {
  viewCheckpoint,
  changeCheckpoint,
  removeCheckpoint,
  listCheckpoints,
  makeCheckpoint,
} from './checkpoints';
import { stateFor } from './state';
import {
  closeRound,
  reportOfRound,
  viewRound,
  removeRound,
  scanOnRound,
  settleOnRound,
  unseenAt,
  listRounds,
  startRound,
} from './rounds';
import { roundPdf, roundBook } from './round-files';

/** The handlers of this module, by route. */
export const checkpointsHandlers = {
  takeBackScan: async ({ db, params, body, device, actor }) => {
    await takeBack(db, params.id, { device: device?.id ?? null, who: actor }, body);
    return contract.done;
  },

  viewBoard: async ({ db, params, query }) => viewBoard(db, params.id, query),

  viewByOneself: async ({ db, params }) => viewByOneself(db, params.id),

  changeByOneself: async ({ db, params, body, actor }) =>
    changeByOneself(db, params.id, body, actor),

  shutDevice: async ({ db, params }) => {
    await shutDevice(db, params.id, params.device);
    return contract.done;
  },

  addDevice: async ({ db, params, body, actor, tell }) => {
    tell(body.name);
    return addDevice(db, params.id, body, actor);
  },

  checkpointFilm: async ({ db, params }) => ({
    codes: await filmFor(db, params.id),
  }),

  findAtCheckpoint: async ({ db, params, query }) => ({
    found: await findRecords(db, params.id, query.search),
  }),

  checkpointLog: async ({ db, params, query, person }) => {
    const all = includes(person.right, 'editor');
    const name = `attachment; filename="log.${query.as}"`;
    if (query.as === 'csv')
      return new Response(streamed(logCsv(db, params.id, all)), {
        headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': name },
      });
    return new Response(Buffer.from(await logBook(db, params.id, all)), {
      headers: {
        'content-type': 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        'content-disposition': name,
      },
    });
  },

  checkpointPack: async ({ db, params }) => packFor(db, params.id),

  viewCheckpoint: async ({ db, params }) => viewCheckpoint(db, params.id),

  changeCheckpoint: async ({ db, params, body }) => changeCheckpoint(db, params.id, body),

  removeCheckpoint: async ({ db, params }) => {
    await removeCheckpoint(db, params.id);
    return contract.done;
  },

  scanCodes: async ({ db, params, body, device, actor }) => ({
    answers: await takeScans(
      db,
      params.id,
      { device: device?.id ?? null, who: actor },
      body.scans,
      body,
    ),
  }),

  checkpointState: async ({ db, params, query, device }) =>
    stateFor(db, params.id, device, query.after),

  columnSessions: async ({ db, params, query }) => ({
    values: await columnSessions(db, params.id, query.column),
  }),

  joinCheckpoint: async ({ db, body, answerHeaders }) => {
    const { checkpoint, cookie } = await joinDevice(db, body.token);
    answerHeaders.append('set-cookie', cookie);
    return { checkpoint };
  },

  listCheckpoints: async ({ db }) => ({
    checkpoints: await listCheckpoints(db),
  }),

  makeCheckpoint: async ({ db, body, actor }) => ({
    id: await makeCheckpoint(db, body, actor),
  }),

  closeRound: async ({ db, params, actor }) => {
    await closeRound(db, params.id, actor);
    return contract.done;
  },

  roundFile: async ({ db, params, query }) => {
    const pdf = query.as === 'pdf';
    return new Response(Buffer.from(await (pdf ? roundPdf : roundBook)(db, params.id)), {
      headers: {
        'content-type': pdf
          ? 'application/pdf'
          : 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        'content-disposition': `attachment; filename="round.${query.as}"`,
      },
    });
  },

  roundReport: async ({ db, params, query }) => reportOfRound(db, params.id, query.before),

  viewRound: async ({ db, params }) => viewRound(db, params.id),

  removeRound: async ({ db, params }) => {
    await removeRound(db, params.id);
    return contract.done;
  },

  scanOnRound: async ({ db, params, body, actor }) => scanOnRound(db, params.id, body, actor),

  settleOnRound: async ({ db, params, body, actor }) => settleOnRound(db, params.id, body, actor),

  unseenOnRound: async ({ db, params, query }) => unseenAt(db, params.id, query.place),

  listRounds: async ({ db }) => ({
    rounds: await listRounds(db),
  }),

  startRound: async ({ db, body, actor }) => ({
    id: await startRound(db, body, actor),
  }),

  checkInPage: async ({ db, params }) => checkInPage(db, params.id, params.checkpoint),

  checkInByOneself: async ({ db, params, request }) =>
    checkInByOneself(db, params.id, params.checkpoint, request),
} satisfies Partial<Handlers>;

import type { Handlers } from '../access';
import { callOrder, fireByHand, newCallSecret } from './starting';
import { orderChoices } from './names';
import { fireAgain, answerFiring, listFirings, fireFailedAgain } from './log';
import * as contract from '../../contract';
import { rehearse } from './rehearsal';
import {
  viewOrder,
  changeOrder,
  removeOrder,
  switchOrder,
  undoOrder,
  listOrders,
  makeOrder,
} from './orders';
import { readyOrder } from './ready';

/** The handlers of this module, by route. */
export const ordersHandlers = {
  callOrder: ({ db, params, request }) => callOrder(db, params.token, request),

  choicesForOrders: ({ db }) => orderChoices(db),

  fireAgain: async ({ db, params, body }) => {
    await fireAgain(db, params.id, body.from);
    return contract.done;
  },

  answerFiring: async ({ db, params, body, actor }) => {
    await answerFiring(db, params.id, body.yes, actor);
    return contract.done;
  },

  listFirings: ({ db, query }) => listFirings(db, query),

  fireFailedAgain: async ({ db, params, body }) => ({
    again: await fireFailedAgain(db, params.id, body.from),
  }),

  fireByHand: async ({ db, params, body, actor }) => ({
    started: await fireByHand(db, params.id, body.records, actor),
  }),

  rehearseOrder: ({ db, params, body }) => rehearse(db, params.id, body),

  viewOrder: ({ db, params }) => viewOrder(db, params.id),

  changeOrder: ({ db, params, body, actor }) => changeOrder(db, params.id, body, actor),

  removeOrder: async ({ db, params }) => {
    await removeOrder(db, params.id);
    return contract.done;
  },

  newCallSecret: async ({ db, params }) => ({
    secret: await newCallSecret(db, params.id),
  }),

  switchOrder: ({ db, params, body, actor, tell }) => {
    tell(body.state === 'on' ? 'Turned on' : 'Turned off');
    return switchOrder(db, params.id, body, actor);
  },

  undoOrder: ({ db, params, body, actor }) => undoOrder(db, params.id, body.version, actor),

  listOrders: async ({ db }) => ({
    orders: await listOrders(db),
  }),

  makeOrder: async ({ db, body, actor, tell }) => {
    const order = 'ready' in body ? await readyOrder(db, body.ready) : body;
    tell(order.name);
    return { id: await makeOrder(db, order, actor) };
  },
} satisfies Partial<Handlers>;

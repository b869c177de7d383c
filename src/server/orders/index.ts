/**
 * Standing orders: which start from an event, their steps, their log and their rehearsal. Uses
 * runs, documents, links, delivery and sources.
 */
export { answerFiring, fireAgain, fireFailedAgain, listFirings } from './log';
export {
  changeOrder,
  listOrders,
  makeOrder,
  removeOrder,
  switchOrder,
  undoOrder,
  viewOrder,
} from './orders';
export { readyOrder } from './ready';
export { rehearse } from './rehearsal';
export { callOrder, fireByHand, newCallSecret } from './starting';
export { orderTasks } from './tasks';

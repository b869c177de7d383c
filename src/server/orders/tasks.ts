import { defineTask } from '../platform';
import { fireOrdersCard, tellOrdersCard } from './cards';
import { fireOrders } from './firing';
import { tellOrders } from './tell';

export const orderTasks = [
  defineTask(tellOrdersCard, (db) => tellOrders(db)),
  defineTask(fireOrdersCard, (db) => fireOrders(db)),
];

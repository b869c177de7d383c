import * as contract from '@/contract';
import { handle } from '@/server/access';
import { switchOrder } from '@/server/orders';

export const POST = handle(contract.switchOrder, ({ db, params, body, actor, tell }) => {
  tell(body.state === 'on' ? 'Turned on' : 'Turned off');
  return switchOrder(db, params.id, body, actor);
});

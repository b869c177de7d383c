import * as contract from '@/contract';
import { handle } from '@/server/access';
import { orderChoices } from '@/server/orders';

export const GET = handle(contract.choicesForOrders, ({ db }) => orderChoices(db));

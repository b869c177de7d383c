import type { OrderStep, StepKind } from '../../../core/orders/order';
import { call } from './call';
import { each } from './each';
import { link } from './link';
import { mail } from './mail';
import { make } from './make';
import { out } from './out';
import { picture } from './picture';
import { print } from './print';
import type { StepDoer } from './step';
import { stop } from './stop';
import { take } from './take';
import { write } from './write';

const doers: { [K in StepKind]: StepDoer<Extract<OrderStep, { kind: K }>> } = {
  make,
  take,
  write,
  link,
  picture,
  mail,
  out,
  print,
  call,
  each,
  stop,
};

export const doerOf = (step: OrderStep): StepDoer => doers[step.kind] as unknown as StepDoer;
export { NotYet, StepTrouble, type Did, type Situation } from './step';
export { chainHeader } from './call';

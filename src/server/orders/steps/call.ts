import { madeChip } from '../../../core/orders/order';
import { saidOf } from '../../../core/records/parts';
import { askOptions, exchange, Unreached, unseal } from '../../platform';
import { type Situation, type StepDoer, type StepOf, StepTrouble } from './step';

/** Most of an answer that is kept, in bytes. */
const mostAnswer = 64 * 2 ** 10;
/** Names the orders that caused a call. */
export const chainHeader = 'hand-stamp-orders';

function asked(step: StepOf<'call'>, { values }: Situation) {
  const { text: to } = saidOf(step.to, values, { address: true });
  if (!/^https?:\/\//i.test(to) || !URL.canParse(to))
    throw new StepTrouble(
      `${to || 'What it calls'} is not a web address with http:// or https://.`,
    );
  const { username, password } = new URL(to);
  if (username || password)
    throw new StepTrouble('A password in an address is not sent. Put it into a secret header.');
  const body = Object.fromEntries(
    step.fields.map(({ name, parts }) => [name, saidOf(parts, values, {}).text]),
  );
  return { to, body };
}

export const call: StepDoer<StepOf<'call'>> = {
  outside: true,
  do: async (step, situation) => {
    const { to, body } = asked(step, situation);
    const bytes = Buffer.from(step.method === 'DELETE' ? '' : JSON.stringify(body));
    const host = new URL(to).host;
    const answer = await exchange(
      to,
      await askOptions(situation.db),
      {
        method: step.method,
        parts: [bytes],
        size: bytes.length,
        headers: {
          ...Object.fromEntries(
            step.headers.map((h) => [
              h.name,
              h.secret ? unseal(h.value.replace(/^sealed:/, '')) : h.value,
            ]),
          ),
          'content-type': 'application/json',
          // the same for every try, so that the receiver does it once
          'idempotency-key': `order-${situation.firing}-${situation.seq}`,
          [chainHeader]: situation.chain.join(','),
        },
      },
      mostAnswer,
    ).catch((error: unknown) => {
      if (error instanceof Unreached)
        throw new StepTrouble(`${host} could not be called: ${error.message}.`, !error.lasting);
      throw error;
    });
    const text = answer.bytes.toString().replaceAll('\0', '').slice(0, 2000);
    if (answer.status < 200 || answer.status > 299)
      throw new StepTrouble(
        `${host} answered ${answer.status}${text ? `: ${text.slice(0, 200)}` : ''}`,
        answer.status >= 500 || answer.status === 408 || answer.status === 429,
      );
    return {
      words: `called ${host}, which answered ${answer.status}`,
      made: { status: answer.status },
      chips: {
        [madeChip(step.id, 'status')]: String(answer.status),
        [madeChip(step.id, 'answer')]: text,
      },
    };
  },
  would: async (step, situation) => {
    const { to } = asked(step, situation);
    return {
      words: `would call ${to}`,
      chips: { [madeChip(step.id, 'status')]: '200', [madeChip(step.id, 'answer')]: '…' },
    };
  },
};

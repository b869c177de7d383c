import { leadsTrouble } from '../../../core/links/leading';
import { madeChip, secretIn } from '../../../core/orders/order';
import { saidOf } from '../../../core/records/parts';
import { makeLink } from '../../links';
import { ourAddresses, ourHosts } from '../../platform';
import { titleOf } from '../title';
import { type Situation, type StepDoer, type StepOf, StepTrouble } from './step';

const leads = (step: StepOf<'link'>, { values }: Situation) => {
  const { text, blank } = saidOf(step.to, values, { address: true });
  if (blank.length > 0) throw new StepTrouble('A value in the link’s address is blank.');
  return text;
};

export const link: StepDoer<StepOf<'link'>> = {
  do: async (step, situation) => {
    const { db, list, record, order, actor } = situation;
    const to = leads(step, situation);
    const title = (record && titleOf(list?.columns ?? [], record.values)) || order.name;
    const { code, address } = await makeLink(db, { title, to, for: 'one' }, actor);
    return {
      words: `made the link ${address}`,
      made: { link: code, address },
      chips: { [madeChip(step.id, 'address')]: address },
    };
  },
  would: async (step, situation) => {
    const to = leads(step, situation);
    const addresses = await ourAddresses(situation.db);
    const trouble = leadsTrouble({ parts: [{ kind: 'text', text: to }] }, ourHosts(addresses));
    if (trouble) throw new StepTrouble(trouble.message);
    return {
      words: `would make a link that leads to ${secretIn(step.to, situation.list?.columns ?? []) ? new URL(to).host : to}`,
      chips: { [madeChip(step.id, 'address')]: `${addresses.links}/l/…` },
    };
  },
};

import { madeChip } from '../../../core/orders/order';
import { contentOf } from '../../../core/payload/stamp';
import { stampOf } from '../../jobs';
import { givePictures } from '../../links';
import { baseAddress } from '../../platform';
import { type Situation, type StepDoer, type StepOf, StepTrouble } from './step';

async function asked(step: StepOf<'picture'>, { db, record, list }: Situation) {
  if (!record || !list) throw new StepTrouble('Its record no longer exists.');
  const { stamp, listId } = await stampOf(db, step.job, step.stamp).catch(() => {
    throw new StepTrouble('The stamp of the picture was deleted.');
  });
  if (listId !== list.id) throw new StepTrouble('That stamp belongs to another list.');
  if (contentOf(stamp, record.values).state !== 'said')
    throw new StepTrouble('This record has no code: a value its stamp needs is blank.');
  return { stamp, record };
}

export const picture: StepDoer<StepOf<'picture'>> = {
  do: async (step, situation) => {
    const { stamp, record } = await asked(step, situation);
    const { db, list, actor } = situation;
    const tokens = await givePictures(db, list!.id, stamp.id, [record.id], actor);
    const token = tokens.get(record.id);
    if (!token)
      throw new StepTrouble(
        'The picture address of this record was withdrawn, so no new one is created.',
      );
    const address = `${await baseAddress(db)}/c/${token}.png`;
    return {
      words: `published its picture at ${address}`,
      made: { address },
      chips: { [madeChip(step.id, 'address')]: address },
    };
  },
  would: async (step, situation) => {
    const { stamp } = await asked(step, situation);
    return {
      words: `would publish the picture of its ${stamp.name}`,
      chips: { [madeChip(step.id, 'address')]: `${await baseAddress(situation.db)}/c/….png` },
    };
  },
};

import type { StepDoer, StepOf } from './step';

export const stop: StepDoer<StepOf<'stop'>> = {
  do: async () => ({ words: 'stopped here', stops: 'its sentence says to stop here' }),
  would: async () => ({ words: 'would stop here', stops: 'its sentence says to stop here' }),
};

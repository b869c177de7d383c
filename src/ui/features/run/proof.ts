'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { ask } from '../../kit/api';
import { useJob, type JobScreenState } from '../../shell/ledger/context';

export type { Which } from '../../shell/ledger/context';

/** The request for a run without its name: the same for its proof and for the run itself. */
export function runRequest({
  plan,
  ticked,
  view,
}: Pick<JobScreenState, 'plan' | 'ticked' | 'view'>) {
  const { which, output, printer, sort } = plan;
  return {
    which,
    output,
    printer,
    sort,
    ...(which === 'ticked' ? { ticked: [...ticked] } : {}),
    ...(which === 'filtered' ? { view: { ...view, where: JSON.stringify(view.where) } } : {}),
  };
}

/** The proof of the sentence's run: its count, and one sheet of it, from 0. */
export function useProof(sheet: number) {
  const state = useJob();
  const { job } = state;
  const run = runRequest(state);
  return useQuery({
    queryKey: [
      'proof',
      job.id,
      job.version,
      job.list.revision,
      job.judging,
      job.counts,
      run,
      sheet,
    ],
    queryFn: () =>
      ask('proveRun', {
        params: { id: job.id },
        body: { sheet, run: { ...run, name: 'proof' } },
      }),
    placeholderData: keepPreviousData,
  });
}

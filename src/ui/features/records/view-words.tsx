'use client';

import { problemWords } from '../../../core/records/problems';
import { PlainButton } from '../../kit/controls';
import { useJob } from '../../shell/ledger/context';
import { wholeView } from '../../shell/ledger/view';

/** What is shown and in which order, where it is not the whole list as it came. */
export function ViewWords() {
  const { job, view, total, setView } = useJob();
  const nameOf = (id: string) =>
    job.list.columns.find((c) => c.id === id)?.name ?? 'a deleted column';
  const words = [
    ...(view.problem ? [`with ${problemWords[view.problem].many}`] : []),
    ...(view.q ? [`that contain “${view.q}”`] : []),
    ...view.where.map(({ column, is, text }) =>
      is === 'blank' || is === 'filled'
        ? `whose ${nameOf(column)} is ${is}`
        : `whose ${nameOf(column)} ${is} “${text}”`,
    ),
  ];
  const [column, way] = view.sort?.split(':') ?? [];
  return (
    <>
      {' '}
      Shown: {total.toLocaleString('en')} {words.length > 0 && words.join(' and ')}
      {column &&
        `, ${way === 'up' ? 'in the order of' : 'in the reverse order of'} ${nameOf(column)}`}
      .
      <PlainButton
        looks
        onPress={() => setView(wholeView)}
        style={{ textDecoration: 'underline', textUnderlineOffset: 3 }}
      >
        Show the whole list
      </PlainButton>
    </>
  );
}

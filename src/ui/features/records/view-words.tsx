'use client';

import { problemWords } from '../../../core/records/problems';
import { PlainButton } from '../../kit/controls';
import { useJob } from '../../shell/ledger/context';
import { wholeView } from '../../shell/ledger/view';
import { viewWords as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** The filter and the order of the view, if it is not the whole list as it came. */
export function ViewWords() {
  const { job, view, total, setView } = useJob();
  const nameOf = (id: string) =>
    job.list.columns.find((c) => c.id === id)?.name ?? wording.aDeletedColumn;
  const words = [
    ...(view.problem ? [filled(wording.with, problemWords[view.problem].many)] : []),
    ...(view.q ? [filled(wording.thatContain, view.q)] : []),
    ...view.where.map(({ column, is, text }) =>
      is === 'blank' || is === 'filled'
        ? filled(wording.whoseIs, nameOf(column), is)
        : filled(wording.whose, nameOf(column), is, text),
    ),
  ];
  const [column, way] = view.sort?.split(':') ?? [];
  return withParts(
    wording.shown,
    total.toLocaleString('en'),
    words.length > 0 && words.join(' and '),
    column &&
      `, ${way === 'up' ? wording.inTheOrderOf : wording.inTheReverseOrder} ${nameOf(column)}`,
    <PlainButton
      looks
      onPress={() => setView(wholeView)}
      style={{ textDecoration: 'underline', textUnderlineOffset: 3 }}
    >
      {wording.showTheWholeList}
    </PlainButton>,
  );
}

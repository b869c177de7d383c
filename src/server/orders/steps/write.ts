import { saidOf } from '../../../core/records/parts';
import { isSecret } from '../../../core/records/columns';
import { editCellsIn, judgeChanged } from '../../lists';
import { type Situation, type StepDoer, type StepOf, StepTrouble } from './step';

function written(step: StepOf<'write'>, { list, record, values }: Situation) {
  if (!list || !record) throw new StepTrouble('Its record no longer exists.');
  const column = list.columns.find((c) => c.id === step.column);
  if (!column) throw new StepTrouble('The column that it writes to was deleted.');
  const { text } = saidOf(step.parts, values, {});
  // a secret is reported as written, without its value
  const shown = isSecret(column, list.columns) ? 'a secret value' : text || 'nothing';
  return {
    list: list.id,
    record: record.id,
    column,
    text,
    shown,
    is: record.values[column.id] ?? '',
  };
}

export const write: StepDoer<StepOf<'write'>> = {
  do: async (step, situation) => {
    const { list, record, column, text, shown } = written(step, situation);
    const { cells, touched, change } = await editCellsIn(
      situation.db,
      list,
      [{ record, column: column.id, value: text }],
      situation.actor,
      { kind: 'edit', note: `${column.name} written by ${situation.order.name}` },
    );
    return {
      words: cells > 0 ? `wrote ${shown} to ${column.name}` : `${column.name} already said so`,
      made: { record },
      after: (db) => judgeChanged(db, list, touched, change),
    };
  },
  would: async (step, situation) => {
    const { column, text, shown, is } = written(step, situation);
    return {
      words:
        is === text ? `${column.name} already says so` : `would write ${shown} to ${column.name}`,
    };
  },
};

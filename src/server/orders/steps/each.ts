import { counted } from '../../../core/base/words';
import { mostRowsOfEach, rowChip } from '../../../core/orders/order';
import { isSecret } from '../../../core/records/columns';
import { saidOf } from '../../../core/records/parts';
import { type Situation, type StepDoer, type StepOf, StepTrouble } from './step';
import { sql } from 'kysely';

async function rowsOf(step: StepOf<'each'>, { db, values }: Situation) {
  const list = await db
    .selectFrom('lists')
    .select(['name', 'columns'])
    .where('id', '=', step.list)
    .executeTakeFirst();
  if (!list) throw new StepTrouble('The list whose rows it repeats was deleted.');
  if (!list.columns.some((c) => c.id === step.column))
    throw new StepTrouble(`The column of ${list.name} that says whose row it is was deleted.`);
  const is = saidOf(step.is, values, {}).text.trim();
  const rows =
    is === ''
      ? []
      : await db
          .selectFrom('records')
          .select(['id', 'values'])
          .where('list_id', '=', step.list)
          .where(sql<boolean>`lower(trim(values->>${step.column})) = lower(${is})`)
          .orderBy('position')
          .limit(mostRowsOfEach + 1)
          .execute();
  if (rows.length > mostRowsOfEach)
    throw new StepTrouble(
      `More than ${mostRowsOfEach} rows of ${list.name} belong to it. One order handles at most that many.`,
    );
  const open = list.columns.filter((c) => !isSecret(c, list.columns));
  return {
    list: list.name,
    rows: rows.map((row) => ({
      name: `${row.id}`,
      chips: Object.fromEntries(open.map((c) => [rowChip(step.id, c.id), row.values[c.id] ?? ''])),
    })),
  };
}

export const each: StepDoer<StepOf<'each'>> = {
  do: async (step, situation) => {
    const { list, rows } = await rowsOf(step, situation);
    return { words: `repeats for ${counted(rows.length, 'row')} of ${list}`, parts: rows };
  },
  would: async (step, situation) => {
    const { list, rows } = await rowsOf(step, situation);
    return {
      words: `would repeat for ${counted(rows.length, 'row')} of ${list}`,
      chips: rows[0]?.chips,
      ...(rows.length === 0 ? { stops: `no row of ${list} belongs to it` } : {}),
    };
  },
};

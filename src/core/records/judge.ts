import { checkDigitFits } from '../payload/check-digit';
import { keyColumn, nameColumn, type Column, type Values } from './columns';

export interface RecordProblem {
  column: string;
  text: string;
}

/**
 * What is wrong with a record by itself: blank or repeated key, product numbers that cannot be right, invisible characters.
 * @param repeated whether another record has the same key
 */
export function recordProblems(values: Values, columns: readonly Column[], repeated: boolean): RecordProblem[] {
  const problems: RecordProblem[] = [];
  const add = (column: Column, text: string) => problems.push({ column: column.id, text });
  const key = keyColumn(columns);
  if (key && (values[key.id] ?? '').trim() === '') add(key, `${key.name} is blank`);
  else if (key && repeated) add(key, `${key.name} comes more than once`);
  const name = nameColumn(columns);
  if (name && (values[name.id] ?? '').trim() === '') add(name, `${name.name} is blank`);
  for (const column of columns) {
    const value = values[column.id] ?? '';
    if (/^#(REF|N\/A|VALUE|DIV\/0|NAME|NUM|NULL)[!?]?$/.test(value.trim()))
      add(column, `${column.name} holds a formula error (${value.trim()})`);
    if (/[\u200b-\u200f\u2060\ufeff\u00ad]/.test(value) && !/[\p{sc=Arabic}\p{sc=Hebrew}\p{sc=Devanagari}]/u.test(value))
      add(column, `${column.name} holds an invisible character`);
    if (column.role === 'product' && value.trim() !== '') {
      const text = value.trim();
      if (/^\d\.\d+E\+\d+$/i.test(text)) add(column, `${column.name} was turned into ${text} by a spreadsheet`);
      else if (!/^\d+$/.test(text)) add(column, `${column.name} is not all digits`);
      else if (![8, 12, 13, 14].includes(text.length))
        add(
          column,
          `${column.name} has ${text.length} digits; 8, 12, 13 or 14 are right${text.length === 11 || text.length === 7 ? ', perhaps a leading zero was lost' : ''}`,
        );
      else if (!checkDigitFits(text)) add(column, `${column.name} has a wrong check digit`);
    }
    if (column.role === 'email' && value.trim() !== '' && !/^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(value.trim()))
      add(column, `${column.name} is not an e-mail address`);
  }
  return problems;
}

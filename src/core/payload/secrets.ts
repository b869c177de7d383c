import { isSecret, type Column, type Values } from '../records/columns';
import { dots, sealedValue } from '../records/sealed';
import { symbologies } from '../symbology';
import { purposeOf } from './purposes';
import { columnsOf, type Stamp } from './stamp';

/** Whether the content of a stamp is secret. */
export const saysSecret = (stamp: Stamp, columns: readonly Column[]): boolean =>
  purposeOf(stamp.does).proves ||
  Boolean(stamp.fields?.password?.length) ||
  columnsOf(stamp).some((id) => columns.some((c) => c.id === id && isSecret(c, columns)));

/** A stamp for people who may not see its secrets: the password of a network as a sealed value. */
export const withoutPassword = (stamp: Stamp): Stamp =>
  stamp.fields?.password?.some((part) => part.kind === 'text')
    ? {
        ...stamp,
        fields: {
          ...stamp.fields,
          password: stamp.fields.password.map((part) =>
            part.kind === 'text' ? { ...part, text: sealedValue(0, '') } : part,
          ),
        },
      }
    : stamp;

/** A stamp whose secret is not printed as text next to its bars, unless the look asks for it. */
export const withoutSecretText = (stamp: Stamp, columns: readonly Column[]): Stamp =>
  symbologies[stamp.symbology].linear && stamp.look.hri === undefined && saysSecret(stamp, columns)
    ? { ...stamp, look: { ...stamp.look, hri: 'none' } }
    : stamp;

/**
 * A payload with its secrets masked: the values of secret columns, plain or encoded, the proof at
 * the end of an address, and the password of a network. Columns in `revealed` are not masked.
 */
export function maskPayload(
  payload: string,
  stamp: Stamp,
  values: Values,
  columns: readonly Column[],
  revealed?: ReadonlySet<string>,
): string {
  let text = payload;
  for (const column of columns) {
    if (!isSecret(column, columns) || revealed?.has(column.id)) continue;
    const value = (values[column.id] ?? '').trim();
    if (value === '') continue;
    for (const written of new Set([
      value,
      encodeURIComponent(value),
      encodeURIComponent(value).replace(/%20/g, '+'),
    ]))
      text = text.split(written).join(dots);
  }
  const { hides } = purposeOf(stamp.does);
  return hides ? text.replace(hides, `$1${dots}`) : text;
}

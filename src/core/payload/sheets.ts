import { purposeOf, purposes } from './purposes';
import type { Stamp } from './stamp';
import type { Column, ColumnRole } from '../records/columns';

export interface SheetColumn {
  heading: string;
  role: ColumnRole;
  /** Field of the purpose that the column fills; none for key and name. */
  field?: string;
}

const roles: Readonly<Record<string, ColumnRole>> = {
  mail: 'email',
  to: 'email',
  page: 'address',
  gtin: 'product',
};
const capital = (text: string): string => text[0]!.toUpperCase() + text.slice(1);

/** Whether the code of a purpose says the record's own key. */
export const keyIsSaid = (purpose: string): boolean => purposeOf(purpose).keyIn !== undefined;

/** The columns of a new list for a purpose: a key, a title, and the purpose's fields. */
export function sheetFor(purpose: string): SheetColumn[] {
  const { id, fields, byLink } = purposeOf(purpose);
  const own = fields
    .filter((f) => !f.choices && !f.further && !(f.id === 'content' && keyIsSaid(id)))
    .filter((f) => !['signed', 'who', 'base'].includes(f.id))
    .map((f): SheetColumn => ({
      heading: capital(f.id === 'content' ? (byLink ? 'page' : 'text') : f.label),
      role: byLink && f.id === 'content' ? 'address' : (roles[f.id] ?? 'text'),
      field: f.id,
    }));
  return [{ heading: 'No', role: 'key' }, { heading: 'Name', role: 'name' }, ...own];
}

export const sheetPurposes = purposes.map((p) => ({ id: p.id, does: p.does }));

/** A stamp of a purpose whose fields are the columns of its sheet. */
export function stampFor(purpose: string, first: Stamp, columns: readonly Column[]): Stamp {
  const sheet = sheetFor(purpose);
  const part = (field: string) => {
    const at = sheet.findIndex((c) => c.field === field);
    return at < 0 ? [] : [{ kind: 'column' as const, column: columns[at]!.id }];
  };
  const key = [{ kind: 'column' as const, column: columns[0]!.id }];
  const fields = Object.fromEntries(
    sheet.flatMap((c) => (c.field && c.field !== 'content' ? [[c.field, part(c.field)]] : [])),
  );
  const content = part('content');
  const { keyIn } = purposeOf(purpose);
  return {
    ...first,
    name: capital(purposeOf(purpose).does),
    does: purpose,
    parts: content.length > 0 ? content : key,
    fields: keyIn && keyIn !== 'content' ? { [keyIn]: key } : fields,
  };
}

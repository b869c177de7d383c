'use client';

import type { LedgerRow } from '../../../contract';
import { Mark } from '../../kit/mark';
import { font } from '../../kit/theme';

/** Where a record was printed, while another band is open. */
export function RunCell({ record }: { record: LedgerRow }) {
  if (record.page === null) return null;
  return (
    <span
      style={{
        display: 'flex',
        gap: 6,
        alignItems: 'center',
        height: '100%',
        paddingLeft: 12,
        font: `400 13px/1 ${font.code}`,
      }}
      title={`Printed on page ${record.page}, seat ${record.place}`}
    >
      <Mark
        name={record.marks.run === 'failed' ? 'failed' : 'ready'}
        label={record.marks.run === 'failed' ? 'did not read back' : 'read back'}
      />
      p {record.page}
    </span>
  );
}

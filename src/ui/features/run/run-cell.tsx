'use client';

import type { LedgerRow } from '../../../contract';
import { Mark } from '../../kit/mark';
import { font } from '../../kit/theme';
import { runCell as wording } from './words';
import { filled } from '../../kit/with-parts';

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
      title={filled(wording.printedOnPageSeat, record.page, record.place)}
    >
      <Mark
        name={record.marks.run === 'failed' ? 'failed' : 'ready'}
        label={record.marks.run === 'failed' ? wording.didNotReadBack : wording.readBack}
      />
      p {record.page}
    </span>
  );
}

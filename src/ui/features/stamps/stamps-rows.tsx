'use client';

import { useMemo } from 'react';
import { styled } from 'styled-components';
import type { LedgerRow } from '../../../contract';
import { counted } from '../../../core/base/words';
import { linkOf } from '../../../core/links/held';
import { maskPayload, saysSecret } from '../../../core/payload/secrets';
import type { Stamp } from '../../../core/payload/stamp';
import { shown } from '../../../core/records/sealed';
import { CodeSvg } from '../../kit/code-picture';
import { Small } from '../../kit/controls';
import { useMay } from '../../kit/me';
import { useCode } from '../../kit/core-client';
import { useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { keptBackWords, verdictOf } from '../../shell/verdict';
import { colour, font } from '../../kit/theme';
import { OpenRow } from './open-row';
import { stampsRows as wording } from './words';
import { filled } from '../../kit/with-parts';

/** Height of the selected row while the stamps are open, in px. */
export const stampsRowHeight = 186;

const Line = styled.div`
  display: flex;
  align-items: center;
  gap: 14px;
  height: 100%;
  padding: 0 16px 0 14px;
  .codes {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  .says {
    flex: 1;
    min-width: 0;
    font: 400 13.5px/1 ${font.code};
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    line-height: 1.4;
  }
  .verdict {
    display: flex;
    gap: 7px;
    align-items: center;
    font-size: 13px;
    max-width: 60%;
  }
  .verdict span {
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
`;

export function StampsCell({
  record,
  open,
  inHand,
}: {
  record: LedgerRow;
  open: boolean;
  inHand: boolean;
}) {
  const { job, openLoupe, revealed, stampInHand: stamp } = useJob();
  const may = useMay();
  const code = useCode(stamp, record.values);
  const { columns } = job.list;
  // every change of the selection draws all rows again; their contents are compared once
  const verdict = useMemo(
    () => stamp && verdictOf(stamp, record, columns),
    [stamp, record, columns],
  );
  if (!stamp || !verdict) return null;
  const says = (payload: string) =>
    shown(maskPayload(payload, stamp, record.values, job.list.columns, revealed));
  // if the content is hidden, the drawn code says what may be shown
  const payload = verdict.mark === 'out' ? '' : verdict.payload || (code?.payload ?? '');
  if (open && inHand) return <OpenRow record={record} stamp={stamp} />;
  if (!open)
    return (
      <div
        style={{ display: 'grid', placeItems: 'center', height: '100%' }}
        title={verdict.mark === 'ready' ? says(payload) : verdict.reason}
        onDoubleClick={openLoupe}
      >
        {code ? (
          <CodeSvg code={code} size={29} />
        ) : (
          verdict.mark !== 'ready' && <Mark name={verdict.mark} label={verdict.reason} />
        )}
      </div>
    );
  return (
    <Line>
      <span className="codes">
        {job.document.stamps.slice(0, 4).map((s) => (
          <SmallCode key={s.id} stamp={s} record={record} faint={s !== stamp} />
        ))}
      </span>
      {verdict.mark === 'out' ? (
        <span className="says" style={{ color: colour.look, fontFamily: font.text }}>
          {verdict.reason}
        </span>
      ) : (
        <span className="says" title={says(payload)}>
          {payload === '' && !may && saysSecret(stamp, columns) ? (
            <span style={{ color: colour.inkSoft, fontFamily: font.text }}>{keptBackWords}</span>
          ) : (
            says(payload).slice(0, 400)
          )}
        </span>
      )}
      {record.scans !== null && linkOf(stamp, columns) && (
        <Small>
          {record.scans === 0
            ? wording.notScannedYet
            : filled(wording.scanned, counted(record.scans, 'time'))}
        </Small>
      )}
      <span className="verdict">
        <Mark name={verdict.mark} />
        <span title={verdict.mark === 'look' ? verdict.reason : undefined}>
          {verdict.mark === 'ready'
            ? 'fits'
            : verdict.mark === 'out'
              ? wording.leftOut
              : verdict.reason}
        </span>
      </span>
    </Line>
  );
}

/** One of several stamps in a row; those that are not selected are fainter. */
function SmallCode({ stamp, record, faint }: { stamp: Stamp; record: LedgerRow; faint: boolean }) {
  const code = useCode(stamp, record.values);
  return (
    <span style={{ width: 30, opacity: faint ? 0.5 : 1 }} title={stamp.name}>
      {code && <CodeSvg code={code} size={Math.min(30, (30 * code.columns) / code.rows)} />}
    </span>
  );
}

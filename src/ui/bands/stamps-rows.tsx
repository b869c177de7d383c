'use client';

import { styled } from 'styled-components';
import type { LedgerRow } from '../../core/job/views';
import { maskPayload } from '../../core/payload/secrets';
import { judgeStamp } from '../../core/payload/stamp';
import { symbologies } from '../../core/symbology';
import { CodeSvg } from '../code-picture';
import { Small } from '../controls';
import { useCode } from '../core-client';
import { useJob } from '../ledger/context';
import { Mark } from '../mark';
import { phoneWould, ReadingWords, useReading } from '../reading';
import { colour, font } from '../theme';

/** Height of the row in hand while the stamps are open, in px. */
export const stampsRowHeight = 186;

const Line = styled.div`
  display: flex;
  align-items: center;
  gap: 14px;
  height: 100%;
  padding: 0 16px 0 14px;
  .codes {
    display: flex;
    gap: 6px;
    width: 30px;
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

export function StampsCell({ record, open, inHand }: { record: LedgerRow; open: boolean; inHand: boolean }) {
  const { job, openLoupe, revealed } = useJob();
  const stamp = job.document.stamps[0];
  const code = useCode(stamp, record.values);
  if (!stamp) return null;
  const shown = (payload: string) => maskPayload(payload, stamp, record.values, job.list.columns, revealed);
  if (open && inHand) return <OpenRow record={record} />;
  const verdict = judgeStamp(stamp, record.values, job.list.columns);
  if (!open)
    return (
      <div
        style={{ display: 'grid', placeItems: 'center', height: '100%' }}
        title={verdict.mark === 'ready' ? shown(verdict.payload) : verdict.reason}
        onDoubleClick={openLoupe}
      >
        {code ? <CodeSvg code={code} size={29} /> : verdict.mark !== 'ready' && <Mark name={verdict.mark} label={verdict.reason} />}
      </div>
    );
  return (
    <Line>
      <span className="codes">{code && <CodeSvg code={code} size={30} />}</span>
      {verdict.mark === 'out' ? (
        <span className="says" style={{ color: colour.look, fontFamily: font.text }}>
          {verdict.reason}
        </span>
      ) : (
        <span className="says" title={shown(verdict.payload)}>
          {shown(verdict.payload).slice(0, 400)}
        </span>
      )}
      <span className="verdict">
        <Mark name={verdict.mark} />
        <span title={verdict.mark === 'look' ? verdict.reason : undefined}>
          {verdict.mark === 'ready' ? 'fits' : verdict.mark === 'out' ? 'left out' : verdict.reason}
        </span>
      </span>
    </Line>
  );
}

const Opened = styled.div`
  display: grid;
  grid-template-columns: 152px minmax(0, 1fr) 190px;
  gap: 20px;
  height: 100%;
  padding: 14px 16px 12px 14px;
  h3 {
    font: 400 12px/1.3 ${font.text};
    color: ${colour.inkSoft};
    margin-bottom: 1px;
  }
  .col {
    display: grid;
    gap: 8px;
    align-content: start;
    min-width: 0;
    overflow: hidden;
  }
  .says {
    font: 400 13.5px/1.4 ${font.code};
    overflow-wrap: anywhere;
    max-height: 58px;
    overflow: auto;
  }
`;

function OpenRow({ record }: { record: LedgerRow }) {
  const { job, openLoupe, revealed } = useJob();
  const { stamps } = job.document;
  const shown = (payload: string) => maskPayload(payload, stamp, record.values, job.list.columns, revealed);
  const stamp = stamps[0];
  const code = useCode(stamp, record.values);
  const report = useReading(stamp, code ? record.values : undefined, stamps);
  const verdict = judgeStamp(stamp, record.values, job.list.columns);
  if (!code)
    return (
      <Opened style={{ gridTemplateColumns: '1fr' }}>
        <div className="col">
          <p style={{ display: 'flex', gap: 8, alignItems: 'center', fontSize: 15 }}>
            <Mark name={verdict.mark} /> {verdict.mark === 'ready' ? 'drawing …' : verdict.reason}
          </p>
          {verdict.mark === 'look' && verdict.mend && <Small>{verdict.mend}</Small>}
          {verdict.mark === 'look' && (
            <p className="says">
              {shown(verdict.payload).slice(0, 600)}
              {verdict.payload.length > 600 && ' …'}
            </p>
          )}
        </div>
      </Opened>
    );
  const { version, level } = code.facts;
  return (
    <Opened>
      <button
        type="button"
        onClick={openLoupe}
        aria-label="Lay the loupe over this code"
        style={{ all: 'unset', cursor: 'zoom-in', outline: 'revert' }}
      >
        <CodeSvg code={code} size={150} />
      </button>
      <div className="col">
        <section>
          <h3>Says</h3>
          <p className="says">{shown(code.payload)}</p>
        </section>
        <section aria-live="polite">
          <h3>Reads as, from this artwork</h3>
          <ReadingWords report={report} payload={code.payload} />
        </section>
        <section>
          <h3>A phone would</h3>
          <p style={{ fontSize: 13.5 }}>{phoneWould(code.payload)}</p>
        </section>
      </div>
      <div className="col">
        <section>
          <h3>
            {symbologies[stamp.symbology].name}
            {stamp.symbology === 'qr' && `, version ${version}, level ${level}`}
          </h3>
          <p style={{ font: `400 13px/1.5 ${font.code}` }}>
            {code.symbolColumns} modules × {code.moduleMm.toFixed(3)} mm
            <br />
            {Number.isInteger(code.dots) ? code.dots : code.dots.toFixed(2)} dots each at {stamp.look.dpi} dpi
            <br />
            {code.widthMm.toFixed(1)} mm with quiet zone
          </p>
        </section>
        {stamp.symbology === 'qr' && level !== stamp.level && (
          <Small>
            Level {level} costs no room here, so it is used instead of {stamp.level}.
          </Small>
        )}
        {stamps.slice(1).map((other) => {
          const fit = judgeStamp(other, record.values, job.list.columns);
          return (
            <Small key={other.id} style={{ display: 'flex', gap: 6, alignItems: 'baseline' }}>
              <Mark name={fit.mark} /> {other.name}: {fit.mark === 'ready' ? 'fits' : fit.reason}
            </Small>
          );
        })}
      </div>
    </Opened>
  );
}

'use client';

import { useMemo } from 'react';
import { styled } from 'styled-components';
import type { LedgerRow } from '../../../contract';
import { counted } from '../../../core/base/words';
import { linkOf } from '../../../core/links/held';
import { maskPayload, saysSecret } from '../../../core/payload/secrets';
import type { Stamp } from '../../../core/payload/stamp';
import { keyColumn, nameColumn } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { symbologies } from '../../../core/symbology';
import { CodeSvg } from '../../kit/code-picture';
import { QuietButton, Small } from '../../kit/controls';
import { useMay } from '../../kit/me';
import { useCode, useSteadyCode } from '../../kit/core-client';
import { useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { holdsElements, phoneWould, ReadingWords, useReading } from '../../kit/reading';
import { CodeInHand } from '../../editors/stamp/code-in-hand';
import { SideBySide } from '../../editors/stamp/side-by-side';
import { onPiece, useBench } from '../../editors/stamp/bench';
import { keptBackWords, verdictOf } from '../../shell/verdict';
import { colour, font } from '../../kit/theme';

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
  // every step of the row in hand draws all rows again; what they say is weighed once
  const verdict = useMemo(
    () => stamp && verdictOf(stamp, record, columns),
    [stamp, record, columns],
  );
  if (!stamp || !verdict) return null;
  const says = (payload: string) =>
    shown(maskPayload(payload, stamp, record.values, job.list.columns, revealed));
  // of what is kept back the drawn code tells what may be shown
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
          {record.scans === 0 ? 'not scanned yet' : `scanned ${counted(record.scans, 'time')}`}
        </Small>
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
  grid-template-columns: 140px minmax(0, 1fr) 200px;
  gap: 20px;
  height: 100%;
  padding: 12px 16px 10px 14px;
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

/** One of several stamps in a row; those that are not in hand are fainter. */
function SmallCode({ stamp, record, faint }: { stamp: Stamp; record: LedgerRow; faint: boolean }) {
  const code = useCode(stamp, record.values);
  return (
    <span style={{ width: 30, opacity: faint ? 0.5 : 1 }} title={stamp.name}>
      {code && <CodeSvg code={code} size={Math.min(30, (30 * code.columns) / code.rows)} />}
    </span>
  );
}

function OpenRow({ record, stamp }: { record: LedgerRow; stamp: Stamp }) {
  const may = useMay();
  const { job, openLoupe, revealed, save } = useJob();
  const { placed } = useBench();
  const { stamps } = job.document;
  // as it is on the piece, where it lies on one
  const drawn = onPiece(stamp, placed?.(stamp.id));
  const says = (payload: string) =>
    shown(maskPayload(payload, stamp, record.values, job.list.columns, revealed));
  const change = (next: Partial<Stamp>) =>
    save((d) => ({
      ...d,
      stamps: d.stamps.map((s) =>
        s.id === stamp.id ? { ...s, ...next, id: s.id, name: s.name } : s,
      ),
    }));
  const { now, code } = useSteadyCode(`${record.id} ${stamp.id}`, drawn, record.values);
  const report = useReading(drawn, now ? record.values : undefined, stamps);
  const verdict = verdictOf(stamp, record, job.list.columns);
  if (!code)
    return (
      <Opened style={{ gridTemplateColumns: 'minmax(0, 1fr) 200px' }}>
        <div className="col">
          <p style={{ display: 'flex', gap: 8, alignItems: 'center', fontSize: 15 }}>
            <Mark name={verdict.mark} />{' '}
            {verdict.mark !== 'ready'
              ? verdict.reason
              : !may && saysSecret(stamp, job.list.columns)
                ? keptBackWords
                : 'drawing …'}
          </p>
          {verdict.mark === 'look' && verdict.mend && <Small>{verdict.mend}</Small>}
          {verdict.mark === 'look' && (
            <p className="says">
              {says(verdict.payload).slice(0, 600)}
              {verdict.payload.length > 600 && ' …'}
            </p>
          )}
        </div>
        <StampList record={record} />
      </Opened>
    );
  const { version, level } = code.facts;
  const title =
    shown(
      record.values[
        (nameColumn(job.list.columns) ?? keyColumn(job.list.columns) ?? job.list.columns[0]).id
      ] ?? '',
    ) || 'this record';
  return (
    <Opened>
      <CodeInHand
        stamp={stamp}
        change={change}
        code={code}
        size={Math.min(132, (132 * code.columns) / code.rows)}
      />
      <div className="col">
        <section>
          <h3>Says</h3>
          <p className="says">{says(code.payload)}</p>
        </section>
        <section aria-live="polite">
          <h3>Reads as, from this artwork</h3>
          <ReadingWords report={report} payload={code.payload} />
        </section>
        <section>
          <h3>A phone would</h3>
          <p style={{ fontSize: 13.5 }}>
            {phoneWould(code.payload, holdsElements(stamp.symbology))}
          </p>
        </section>
      </div>
      <div className="col">
        <section>
          <h3>
            {symbologies[stamp.symbology].name}
            {typeof version === 'number' && `, version ${version}, level ${level}`}
          </h3>
          <p style={{ font: `400 13px/1.5 ${font.code}` }}>
            {Math.round(code.symbolColumns)} modules × {code.moduleMm.toFixed(3)} mm
            <br />
            {Number.isInteger(code.dots) ? code.dots : code.dots.toFixed(2)} dots each at{' '}
            {stamp.look.dpi} dpi
          </p>
          {typeof version === 'number' && level !== stamp.level && (
            <Small>Level {level} costs no room here.</Small>
          )}
        </section>
        <div style={{ display: 'flex', gap: 6 }}>
          <QuietButton looks onPress={openLoupe}>
            Loupe
          </QuietButton>
          <SideBySide
            stamp={stamp}
            values={record.values}
            title={title}
            stamps={stamps}
            onUse={change}
          />
        </div>
        <StampList record={record} />
      </div>
    </Opened>
  );
}

const Stamps = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  font-size: 12.5px;
  max-height: 52px;
  overflow: auto;
  button {
    all: unset;
    box-sizing: border-box;
    width: 100%;
    display: flex;
    gap: 6px;
    align-items: center;
    height: 26px;
    padding: 0 4px;
    cursor: pointer;
    border-radius: 2px;
  }
  button[aria-pressed='true'] {
    background: ${colour.violetWash};
    font-weight: 700;
  }
  button:focus-visible {
    outline: 2px solid ${colour.violet};
  }
  span {
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
`;

/** The stamps of the list, each with its verdict on the record in hand; the one taken is shown in every row. */
function StampList({ record }: { record: LedgerRow }) {
  const { job, stampInHand, takeStamp } = useJob();
  const { stamps } = job.document;
  if (stamps.length < 2) return null;
  return (
    <Stamps aria-label="Stamps">
      {stamps.map((stamp) => {
        const fit = verdictOf(stamp, record, job.list.columns);
        const words = fit.mark === 'ready' ? 'fits' : fit.reason;
        return (
          <li key={stamp.id}>
            <button
              type="button"
              aria-pressed={stamp === stampInHand}
              onClick={() => takeStamp(stamp.id)}
              title={`${stamp.name}: ${words}`}
            >
              <Mark name={fit.mark} />
              <span>
                {stamp.name}: {words}
              </span>
            </button>
          </li>
        );
      })}
    </Stamps>
  );
}

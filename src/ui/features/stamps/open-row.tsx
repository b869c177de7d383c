'use client';

import { styled } from 'styled-components';
import type { LedgerRow } from '../../../contract';
import { maskPayload, saysSecret } from '../../../core/payload/secrets';
import type { Stamp } from '../../../core/payload/stamp';
import { keyColumn, nameColumn } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { symbologies } from '../../../core/symbology';
import { QuietButton, Small } from '../../kit/controls';
import { useMay } from '../../kit/me';
import { useSteadyCode } from '../../kit/core-client';
import { useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { Term } from '../../kit/term';
import { holdsElements, phoneWould, ReadingWords, useReading } from '../../kit/reading';
import { CodeInHand } from '../../editors/stamp/code-in-hand';
import { SideBySide } from '../../editors/stamp/side-by-side';
import { onPiece, useBench } from '../../editors/stamp/bench';
import { keptBackWords, verdictOf } from '../../shell/verdict';
import { colour, font } from '../../kit/theme';
import { openRow as wording } from './words';
import { withParts } from '../../kit/with-parts';

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

/**
 * A stamp in the selected row: its code large, its content, the test scan, and what a phone would
 * do.
 */
export function OpenRow({ record, stamp }: { record: LedgerRow; stamp: Stamp }) {
  const may = useMay();
  const { job, openLoupe, revealed, save } = useJob();
  const { placed } = useBench();
  const { stamps } = job.document;
  // as it is on the piece, if it is on one
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
                : wording.drawing}
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
        (nameColumn(job.list.columns) ?? keyColumn(job.list.columns) ?? job.list.columns[0])?.id ??
          ''
      ] ?? '',
    ) || wording.thisRecord;
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
          <h3>{wording.says}</h3>
          <p className="says">{says(code.payload)}</p>
        </section>
        <section aria-live="polite">
          <h3>{wording.testScanOfThis}</h3>
          <ReadingWords report={report} payload={code.payload} />
        </section>
        <section>
          <h3>{wording.aPhoneWould}</h3>
          <p style={{ fontSize: 13.5 }}>
            {phoneWould(code.payload, holdsElements(stamp.symbology))}
          </p>
        </section>
      </div>
      <div className="col">
        <section>
          <h3>
            <Term of="symbology">{symbologies[stamp.symbology].name}</Term>
            {typeof version === 'number' &&
              withParts(wording.version, version, <Term of="level">level {level}</Term>)}
          </h3>
          <p style={{ font: `400 13px/1.5 ${font.code}` }}>
            {withParts(
              wording.mmDotsEachAt,
              Math.round(code.symbolColumns),
              <Term of="module">squares</Term>,
              code.moduleMm.toFixed(3),
              <br />,
              Number.isInteger(code.dots) ? code.dots : code.dots.toFixed(2),
              stamp.look.dpi,
              <Term of="dpi">dpi</Term>,
            )}
          </p>
          {typeof version === 'number' && level !== stamp.level && (
            <Small>{withParts(wording.levelNeedsNoExtra, level)}</Small>
          )}
        </section>
        <div style={{ display: 'flex', gap: 6 }}>
          <QuietButton looks onPress={openLoupe}>
            {wording.loupe}
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

/**
 * The stamps of the list, each with its verdict on the selected record; the selected one is shown
 * in every row.
 */
function StampList({ record }: { record: LedgerRow }) {
  const { job, stampInHand, takeStamp } = useJob();
  const { stamps } = job.document;
  if (stamps.length < 2) return null;
  return (
    <Stamps aria-label={wording.stamps}>
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

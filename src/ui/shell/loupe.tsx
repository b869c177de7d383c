'use client';

import { useState } from 'react';
import { Dialog, Heading } from 'react-aria-components';
import { styled } from 'styled-components';
import { maskPayload, saysSecret } from '../../core/payload/secrets';
import type { LedgerRow } from '../../contract';
import type { Stamp } from '../../core/payload/stamp';
import type { Piece } from '../../core/piece/model';
import type { Column, Values } from '../../core/records/columns';
import { shown } from '../../core/records/sealed';
import { CodeSvg } from '../kit/code-picture';
import { PlainButton, Small, Warning } from '../kit/controls';
import { useMay } from '../kit/me';
import { useCode } from '../kit/core-client';
import { useHand, useJob } from './ledger/context';
import { Mark } from '../kit/mark';
import { Pick } from '../kit/pick';
import {
  holdsElements,
  phoneWould,
  ReadingWords,
  UnpackedFields,
  useReading,
} from '../kit/reading';
import { ScanPanel, type ScanSource } from './scan-panel';
import { Card, Veil } from './shortcuts';
import { keptBackWords, verdictOf } from './verdict';
import { colour, font } from '../kit/theme';
import { loupe as wording } from './words';
import { withParts } from '../kit/with-parts';

const Lens = styled(Dialog)`
  outline: none;
  display: grid;
  grid-template-columns: auto 350px;
  min-height: 420px;
  .code {
    display: grid;
    place-items: center;
    padding: 34px;
    border-right: 1px solid ${colour.rule};
  }
  .facts {
    padding: 22px 26px;
    display: grid;
    gap: 13px;
    align-content: start;
  }
  h3 {
    font: 400 12.5px/1.3 ${font.text};
    color: ${colour.inkSoft};
    margin-bottom: 2px;
  }
  .says {
    font: 400 13.5px/1.45 ${font.code};
    overflow-wrap: anywhere;
    max-height: 120px;
    overflow: auto;
  }
`;

/**
 * The code at true size and enlarged, the reader's result, the action of a phone, and the verdict.
 * No settings.
 */
export function Loupe({
  isOpen,
  onOpenChange,
}: {
  isOpen: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  return (
    <Veil isOpen={isOpen} onOpenChange={onOpenChange} isDismissable>
      <Card>
        <Lens>{({ close }) => <JobLens close={close} />}</Lens>
      </Card>
    </Veil>
  );
}

/** The loupe over the code of the selected row. */
function JobLens({ close }: { close: () => void }) {
  const { job, revealed, stampInHand: stamp, takeStamp } = useJob();
  const { handRow } = useHand();
  const { stamps, piece } = job.document;
  if (!stamp || !handRow) return <div style={{ padding: 30 }}>{wording.noRecordIsSelected}</div>;
  const onPiece =
    !piece.ground && piece.elements.some((e) => e.kind === 'stamp' && e.stamp === stamp.id)
      ? piece
      : undefined;
  return (
    <LensContent
      stamp={stamp}
      stamps={stamps}
      values={handRow.values}
      columns={job.list.columns}
      notes={handRow.notes}
      piece={onPiece}
      revealed={revealed}
      close={close}
    >
      {stamps.length > 1 && (
        <div>
          {stamps.map((s) => (
            <PlainButton
              looks
              key={s.id}
              onPress={() => takeStamp(s.id)}
              aria-pressed={s === stamp}
            >
              {s.name}
            </PlainButton>
          ))}
        </div>
      )}
    </LensContent>
  );
}

/** The loupe over one code that belongs to no job. */
export function OneLoupe({
  isOpen,
  onOpenChange,
  stamp,
  values,
  columns,
}: {
  isOpen: boolean;
  onOpenChange: (open: boolean) => void;
  stamp: Stamp;
  values: Values;
  columns: readonly Column[];
}) {
  return (
    <Veil isOpen={isOpen} onOpenChange={onOpenChange} isDismissable>
      <Card>
        <Lens>
          {({ close }) => (
            <LensContent
              stamp={stamp}
              stamps={[stamp]}
              values={values}
              columns={columns}
              close={close}
            />
          )}
        </Lens>
      </Card>
    </Veil>
  );
}

type From = 'artwork' | ScanSource;

function LensContent({
  stamp,
  stamps,
  values,
  columns,
  notes = [],
  piece,
  revealed,
  close,
  children,
}: {
  stamp: Stamp;
  stamps: Stamp[];
  values: Values;
  columns: readonly Column[];
  /** The server's verdict on the record. */
  notes?: LedgerRow['notes'];
  piece?: Piece;
  revealed?: ReadonlySet<string>;
  close: () => void;
  children?: React.ReactNode;
}) {
  const [from, setFrom] = useState<From>('artwork');
  const may = useMay();
  const code = useCode(stamp, values);
  const report = useReading(stamp, code ? values : undefined, stamps, piece);
  const verdict = verdictOf(stamp, { values, notes }, columns);
  const says = (payload: string) => shown(maskPayload(payload, stamp, values, columns, revealed));
  // CSS pixels are 1/96 inch: at 100 % zoom this is the printed size
  const trueSize = code ? (code.widthMm / 25.4) * 96 : 0;
  return (
    <>
      <div className="code">
        {code ? (
          <CodeSvg code={code} size={348} label={wording.theCodeEnlarged} />
        ) : (
          <Small style={{ width: 300, textAlign: 'center' }}>
            {verdict.mark !== 'ready'
              ? verdict.reason
              : !may && saysSecret(stamp, columns)
                ? keptBackWords
                : wording.drawing}
          </Small>
        )}
      </div>
      <div className="facts">
        <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'start' }}>
          <Heading slot="title" level={2}>
            {stamp.name}
          </Heading>
          <PlainButton looks onPress={close} style={{ margin: '-6px -10px 0 0' }}>
            {wording.close}
          </PlainButton>
        </div>
        {children}
        <Pick
          looks
          label={wording.readItFrom}
          value={from}
          onChange={setFrom}
          choices={[
            { id: 'artwork', name: piece ? wording.theFinishedPiece : wording.thisArtwork },
            { id: 'camera', name: wording.theCamera },
            { id: 'file', name: wording.aPicture },
          ]}
        />
        {from !== 'artwork' && <ScanPanel key={from} source={from} expected={code?.payload} />}
        {code && from === 'artwork' && (
          <>
            <section>
              <h3>{wording.says}</h3>
              <p className="says">{says(code.payload)}</p>
            </section>
            <section aria-live="polite">
              <h3>
                {report && 'onPiece' in report && report.onPiece
                  ? wording.testScanOfThe
                  : wording.testScanOfThis}
              </h3>
              <ReadingWords report={report} payload={code.payload} />
              {report && 'unusedCorrection' in report && report.unusedCorrection !== undefined && (
                <Small>
                  {withParts(
                    wording.ofItsErrorCorrection,
                    Math.round(report.unusedCorrection * 100),
                  )}
                </Small>
              )}
            </section>
            <section>
              <h3>{wording.aPhoneWould}</h3>
              <p>{phoneWould(code.payload, holdsElements(stamp.symbology))}</p>
              <UnpackedFields payload={says(code.payload)} />
            </section>
            <section>
              <h3>{withParts(wording.trueSizeMmWith, code.widthMm.toFixed(1))}</h3>
              <CodeSvg code={code} size={trueSize} label={wording.theCodeAtTrue} />
            </section>
          </>
        )}
        <section>
          <h3>{wording.result}</h3>
          <p style={{ display: 'flex', gap: 7, alignItems: 'baseline' }}>
            <Mark name={verdict.mark} />{' '}
            <span>
              {verdict.mark === 'ready' ? 'fits' : verdict.reason}
              {verdict.mark === 'look' && verdict.mend ? ` ${verdict.mend}` : ''}
            </span>
          </p>
          {code?.warnings.map((w) => (
            <Warning key={w.kind}>
              {w.message} {w.mend}
            </Warning>
          ))}
        </section>
      </div>
    </>
  );
}

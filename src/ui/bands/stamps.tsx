'use client';

import { styled } from 'styled-components';
import { judgeStamp, type Stamp } from '../../core/payload/stamp';
import { symbologies } from '../../core/symbology';
import type { LedgerRow } from '../../core/job/views';
import { CodeSvg } from '../code-picture';
import { ChoicePart, Chip, Measure, Part, PlainButton, Sentence, Small, Warning, Words } from '../controls';
import { useCode } from '../core-client';
import { useJob } from '../ledger/context';
import { Mark } from '../mark';
import { phoneWould, ReadingWords, useReading } from '../reading';
import { colour, font } from '../theme';
import { ContentEditor } from './content-editor';
import { SymbologyPart } from './symbology-part';
import { ColourEditor, colourName } from './colour-editor';

export const stampsRowHeight = 186;

const levels = [
  {
    id: 'L',
    name: 'little spare (level L)',
    about: 'Smallest code. Reads with about 7% of it spoilt: for clean screens and short-lived paper.',
  },
  { id: 'M', name: 'some spare (level M)', about: 'Reads with about 15% of it spoilt: for labels and badges handled with care.' },
  { id: 'Q', name: 'much spare (level Q)', about: 'Reads with about 25% of it spoilt: for badges worn all day, outdoor labels.' },
  { id: 'H', name: 'most spare (level H)', about: 'Reads with about 30% of it spoilt: for rough use. The largest code.' },
] as const;

const dpis = [203, 300, 600, 1200] as const;

export function StampsSentence() {
  const { job, save } = useJob();
  const { stamps } = job.document;
  const change = (id: string) => (next: Partial<Stamp>) =>
    save((d) => ({ ...d, stamps: d.stamps.map((s) => (s.id === id ? { ...s, ...next } : s)) }));
  const add = () =>
    save((d) => {
      const number = Math.max(0, ...d.stamps.map((s) => Number(s.id.split('-')[1]))) + 1;
      return { ...d, stamps: [...d.stamps, { ...d.stamps[0], id: `stamp-${number}`, name: `Stamp ${number}` }] };
    });
  return (
    <>
      {stamps.map((stamp, i) => (
        <StampSentence key={stamp.id} stamp={stamp} change={change(stamp.id)} minor={i > 0} many={stamps.length > 1} />
      ))}
      {stamps.length < 8 && (
        <PlainButton onPress={add} style={{ padding: '2px 0', fontSize: 13, textDecoration: 'underline', textUnderlineOffset: 3 }}>
          Add a stamp
        </PlainButton>
      )}
    </>
  );
}

function StampSentence({
  stamp,
  change,
  minor,
  many,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
  minor: boolean;
  many: boolean;
}) {
  const { job, handRow, save } = useJob();
  const code = useCode(stamp, handRow?.values);
  const look = (next: Partial<Stamp['look']>) => change({ look: { ...stamp.look, ...next } });
  const dots = code
    ? `${Number.isInteger(code.dots) ? code.dots : code.dots.toFixed(1)} dots a module at ${stamp.look.dpi} dpi`
    : `at ${stamp.look.dpi} dpi`;
  const remove = () =>
    save((d) => ({
      ...d,
      stamps: d.stamps.filter((s) => s.id !== stamp.id),
      piece: { ...d.piece, elements: d.piece.elements.filter((e) => e.kind !== 'stamp' || e.stamp !== stamp.id) },
    }));
  return (
    <Sentence $minor={minor}>
      {many && (
        <>
          <Part
            label="Name of this stamp"
            editor={(close) => (
              <>
                <Words
                  label="Name of this stamp"
                  value={stamp.name}
                  onChange={(name) => name && change({ name })}
                  autoFocus
                  onEnter={close}
                />
                <PlainButton
                  onPress={() => {
                    close();
                    remove();
                  }}
                >
                  Take this stamp away
                </PlainButton>
              </>
            )}
          >
            {stamp.name}
          </Part>
          {': '}
        </>
      )}
      A scan{' '}
      <ChoicePart
        label="What a scan does"
        value={stamp.does}
        onChange={(does) => change({ does })}
        choices={[
          { id: 'page', name: 'opens a page', about: 'The content is an address; values are written into it so that it stays one.' },
          { id: 'text', name: 'gives the text', about: 'The content is handed over as it stands: a number, a key, words.' },
        ]}
      />{' '}
      {stamp.does === 'page' && 'at '}
      <Part
        label="What the code says"
        editor={(close) => (
          <ContentEditor
            parts={stamp.parts}
            columns={job.list.columns}
            onChange={(parts) => {
              change({ parts });
              close();
            }}
            stamp={stamp}
          />
        )}
      >
        <Content stamp={stamp} />
      </Part>
      , as <SymbologyPart stamp={stamp} onChange={(symbology) => change({ symbology })} />,{' '}
      <Part label="Size" editor={<SizeEditor stamp={stamp} look={look} />}>
        {code ? `${code.widthMm.toFixed(1)} mm` : `${stamp.look.sizeMm} mm`}, {dots}
      </Part>
      {stamp.symbology === 'qr' && (
        <>
          , with <ChoicePart label="Error correction" value={stamp.level} onChange={(level) => change({ level })} choices={levels} />
        </>
      )}
      , in{' '}
      <Part label="Colours" editor={<ColourEditor look={stamp.look} onChange={look} warnings={code?.warnings ?? []} />}>
        {colourName(stamp.look.foreground)} on {stamp.look.background === 'transparent' ? 'nothing' : colourName(stamp.look.background)}
      </Part>
      .
      {code?.warnings.map((w) => (
        <Warning key={w.kind}>
          <Mark name="look" /> {w.message} {w.mend}
        </Warning>
      ))}
    </Sentence>
  );
}

function SizeEditor({ stamp, look }: { stamp: Stamp; look: (next: Partial<Stamp['look']>) => void }) {
  const { handRow } = useJob();
  const code = useCode(stamp, handRow?.values);
  return (
    <>
      <Measure
        label="Width with its quiet zone, at most, mm"
        value={stamp.look.sizeMm}
        min={4}
        max={300}
        step={0.5}
        onChange={(sizeMm) => look({ sizeMm })}
      />
      <label style={{ display: 'grid', gap: 3, fontSize: 12.5, color: colour.inkSoft }}>
        Dots per inch of the printer
        <select
          value={stamp.look.dpi}
          onChange={(e) => look({ dpi: Number(e.target.value) })}
          style={{ padding: '5px 6px', fontSize: 14, color: colour.ink }}
        >
          {dpis.map((dpi) => (
            <option key={dpi} value={dpi}>
              {dpi} dpi
            </option>
          ))}
        </select>
      </label>
      <label style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
        <input type="checkbox" checked={stamp.look.wholeDots} onChange={(e) => look({ wholeDots: e.target.checked })} />
        whole dots per module, so that every edge is sharp
      </label>
      {symbologies[stamp.symbology].linear && (
        <>
          <Measure
            label="Height of the bars, mm"
            value={stamp.look.barMm ?? Math.round((code ? code.heightMm : 9) * 2) / 2}
            min={2}
            max={200}
            step={0.5}
            onChange={(barMm) => look({ barMm })}
          />
          <label style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
            <input
              type="checkbox"
              checked={stamp.look.hri !== 'none'}
              onChange={(e) => look({ hri: e.target.checked ? 'below' : 'none' })}
            />
            its text below the bars
          </label>
        </>
      )}
      {code && (
        <Small>
          Comes to {code.widthMm.toFixed(2)} mm: {code.columns} modules of {code.moduleMm.toFixed(3)} mm,{' '}
          {code.dots.toFixed(Number.isInteger(code.dots) ? 0 : 2)} dots each.
        </Small>
      )}
    </>
  );
}

/** A stamp's content in words and chips. */
function Content({ stamp }: { stamp: Stamp }) {
  const { job } = useJob();
  if (stamp.parts.length === 0) return <>nothing yet</>;
  return (
    <>
      {stamp.parts.map((part, i) =>
        part.kind === 'text' ? (
          <span key={i} style={{ overflowWrap: 'anywhere' }}>
            {part.text}
          </span>
        ) : (
          <Chip key={i}>{job.list.columns.find((c) => c.id === part.column)?.name ?? 'a removed column'}</Chip>
        ),
      )}
    </>
  );
}

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
  const { job, openLoupe } = useJob();
  const stamp = job.document.stamps[0];
  const code = useCode(stamp, record.values);
  if (!stamp) return null;
  if (open && inHand) return <OpenRow record={record} />;
  const verdict = judgeStamp(stamp, record.values, job.list.columns);
  if (!open)
    return (
      <div
        style={{ display: 'grid', placeItems: 'center', height: '100%' }}
        title={verdict.mark === 'ready' ? verdict.payload : verdict.reason}
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
        <span className="says" title={verdict.payload}>
          {verdict.payload.slice(0, 400)}
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
  const { job, openLoupe } = useJob();
  const { stamps } = job.document;
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
              {verdict.payload.slice(0, 600)}
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
          <p className="says">{code.payload}</p>
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

'use client';

import type { Stamp } from '../../core/payload/stamp';
import { symbologies } from '../../core/symbology';
import { ChoicePart, Chip, Measure, Part, PlainButton, Sentence, Small, Warning, Words } from '../controls';
import { useCode } from '../core-client';
import { useJob } from '../ledger/context';
import { Mark } from '../mark';
import { colour } from '../theme';
import { ContentEditor } from './content-editor';
import { SymbologyPart } from './symbology-part';
import { ColourEditor, colourName } from './colour-editor';

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

'use client';

import type { ReactNode } from 'react';
import { purposeOf } from '../../core/payload/purposes';
import type { SymbologyFit } from '../../core/job/views';
import type { Stamp } from '../../core/payload/stamp';
import { symbologies } from '../../core/symbology';
import { ChoicePart, Measure, Part, QuietButton, Sentence, Small, Warning } from '../controls';
import { useCode } from '../core-client';
import { Mark } from '../mark';
import { colour } from '../theme';
import { AddressesPart } from './addresses-part';
import { useBench } from './bench';
import { ColourEditor, colourName } from './colour-editor';
import { ContentEditor } from './content-editor';
import { DoorPart } from './door-part';
import { KeptContents, KeptLookPart } from './kept';
import { FrameEditor, frameWords, LogoEditor, logoWords, turns } from './extras-editor';
import { OptionsPart } from './options-part';
import { FieldsParts, PartsWords, PurposePart } from './purpose-part';
import { ShapeEditor, shapeWords } from './shape-editor';
import { SymbologyPart } from './symbology-part';

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
const levelled = new Set(['qr', 'micro-qr', 'rmqr', 'gs1-qr']);

const dpis = [203, 300, 600, 1200] as const;

/** A stamp as a sentence whose parts are its controls. `name` stands before it where there are several. */
export function StampSentence({
  stamp,
  change,
  minor = false,
  name,
  mend,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
  minor?: boolean;
  name?: ReactNode;
  mend?: (fit: SymbologyFit) => void;
}) {
  const { columns, values } = useBench();
  const code = useCode(stamp, values);
  const look = (next: Partial<Stamp['look']>) => change({ look: { ...stamp.look, ...next } });
  const dots = code
    ? `${Number.isInteger(code.dots) ? code.dots : code.dots.toFixed(1)} dots a module at ${stamp.look.dpi} dpi`
    : `at ${stamp.look.dpi} dpi`;
  const warnings = code?.warnings ?? [];
  const whole = purposeOf(stamp.does).fields.some((f) => f.id === 'content');
  return (
    <Sentence $minor={minor}>
      {name}A scan <PurposePart stamp={stamp} change={change} />
      {whole && (
        <>
          {stamp.does === 'page' ? ' at ' : ' '}
          <Part
            label="What the code says"
            editor={(close) => (
              <>
                <ContentEditor
                  parts={stamp.parts}
                  columns={columns}
                  onChange={(parts, spaces) => {
                    change({ parts, spaces });
                    close();
                  }}
                  stamp={stamp}
                />
                {columns.length > 0 && <KeptContents stamp={stamp} change={change} close={close} />}
              </>
            )}
          >
            <PartsWords parts={stamp.parts} empty="nothing yet" />
          </Part>
        </>
      )}
      <FieldsParts stamp={stamp} change={change} />, as{' '}
      <SymbologyPart stamp={stamp} onChange={(symbology) => change({ symbology })} onMend={mend} />
      <OptionsPart stamp={stamp} change={change} />,{' '}
      <Part label="Size" editor={<SizeEditor stamp={stamp} look={look} />}>
        {code ? `${code.widthMm.toFixed(1)} mm` : `${stamp.look.sizeMm} mm`}, {dots}
      </Part>
      {levelled.has(stamp.symbology) && (
        <>
          , with <ChoicePart label="Error correction" value={stamp.level} onChange={(level) => change({ level })} choices={levels} />
        </>
      )}
      , in{' '}
      <Part label="Colours" editor={<ColourEditor look={stamp.look} onChange={look} warnings={warnings} gradients />}>
        {colourName(stamp.look.foreground)}
        {stamp.look.gradient && ` into ${colourName(stamp.look.gradient.to)}`} on{' '}
        {stamp.look.background === 'transparent' ? 'nothing' : colourName(stamp.look.background)}
      </Part>
      , drawn in{' '}
      <Part label="Shapes" editor={<ShapeEditor stamp={stamp} onChange={look} />}>
        {shapeWords(stamp)}
      </Part>
      , with{' '}
      <Part label="Pictures" editor={<LogoEditor look={stamp.look} onChange={look} warnings={warnings} />}>
        {logoWords(stamp.look)}
      </Part>{' '}
      and{' '}
      <Part label="Frame" editor={<FrameEditor look={stamp.look} onChange={look} />}>
        {frameWords(stamp.look)}
      </Part>
      ,{' '}
      <ChoicePart
        label="Turned"
        value={String(stamp.look.turn ?? 0) as (typeof turns)[number]['id']}
        onChange={(id) => look({ turn: id === '0' ? undefined : (Number(id) as 90) })}
        choices={turns}
      />
      . <DoorPart stamp={stamp} /> <KeptLookPart stamp={stamp} change={change} /> <AddressesPart stamp={stamp} />
      {warnings.map((w) => (
        <Warning key={w.kind}>
          <Mark name="look" /> {w.message} {w.mend}
        </Warning>
      ))}
    </Sentence>
  );
}

function SizeEditor({ stamp, look }: { stamp: Stamp; look: (next: Partial<Stamp['look']>) => void }) {
  const { values } = useBench();
  const code = useCode(stamp, values);
  const texts = symbologies[stamp.symbology].linear;
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
      {code && (
        <Measure
          label="or one module, dots of the printer"
          value={Math.round(code.dots * 100) / 100}
          min={1}
          max={200}
          step={1}
          onChange={(dots) => look({ sizeMm: Math.ceil(((dots * code.columns * 25.4) / stamp.look.dpi) * 100) / 100 })}
        />
      )}
      {code && (
        <Measure
          label={`or the whole, pixels at ${stamp.look.dpi} dpi`}
          value={Math.round((code.widthMm / 25.4) * stamp.look.dpi)}
          min={20}
          max={20000}
          step={1}
          onChange={(pixels) => look({ sizeMm: Math.min(300, Math.max(4, (pixels / stamp.look.dpi) * 25.4)) })}
        />
      )}
      <Measure
        label="Read from how far away, cm (0: not said)"
        value={(stamp.look.distanceMm ?? 0) / 10}
        min={0}
        max={2000}
        step={5}
        onChange={(cm) => look({ distanceMm: cm >= 5 ? cm * 10 : undefined })}
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
      <label style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
        <input type="checkbox" checked={stamp.look.quietZone} onChange={(e) => look({ quietZone: e.target.checked })} />
        the quiet zone belongs to it
      </label>
      {texts && (
        <>
          <Measure
            label="Height of the bars, mm"
            value={stamp.look.barMm ?? Math.round((code ? code.heightMm : 9) * 2) / 2}
            min={2}
            max={200}
            step={0.5}
            onChange={(barMm) => look({ barMm })}
          />
          <div role="group" aria-label="Text at the bars" style={{ display: 'flex', gap: 6 }}>
            {(['below', 'above', 'none'] as const).map((hri) => (
              <QuietButton key={hri} aria-pressed={(stamp.look.hri ?? 'below') === hri} onPress={() => look({ hri })}>
                {hri === 'none' ? 'no text' : `text ${hri}`}
              </QuietButton>
            ))}
          </div>
        </>
      )}
      {code && (
        <Small>
          Comes to {code.widthMm.toFixed(2)} by {code.heightMm.toFixed(2)} mm: {Math.round(code.columns)} modules of{' '}
          {code.moduleMm.toFixed(3)} mm, {code.dots.toFixed(Number.isInteger(code.dots) ? 0 : 2)} dots each.
        </Small>
      )}
    </>
  );
}

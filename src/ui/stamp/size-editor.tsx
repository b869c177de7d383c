'use client';

import type { Stamp } from '../../core/payload/stamp';
import { symbologies } from '../../core/symbology';
import { Measure, QuietButton, Small } from '../controls';
import { useCode } from '../core-client';
import { colour } from '../theme';
import { useBench } from './bench';

const dpis = [203, 300, 600, 1200] as const;

/** Size in millimetres, dots or pixels; the printer; whole dots; quiet zone; bars and their text. */
export function SizeEditor({ stamp, look }: { stamp: Stamp; look: (next: Partial<Stamp['look']>) => void }) {
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
          <TextPlace stamp={stamp} look={look} />
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

/** Where the human-readable text of bars stands. */
export function TextPlace({ stamp, look }: { stamp: Stamp; look: (next: Partial<Stamp['look']>) => void }) {
  return (
    <div role="group" aria-label="Text at the bars" style={{ display: 'flex', gap: 6 }}>
      {(['below', 'above', 'none'] as const).map((hri) => (
        <QuietButton key={hri} aria-pressed={(stamp.look.hri ?? 'below') === hri} onPress={() => look({ hri })}>
          {hri === 'none' ? 'no text' : `text ${hri}`}
        </QuietButton>
      ))}
    </div>
  );
}

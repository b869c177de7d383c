'use client';

import { useEffect, useState } from 'react';
import type { Stamp } from '../core/payload/stamp';
import type { Piece } from '../core/piece/piece';
import type { Values } from '../core/records/columns';
import type { ReadingReport } from '../workers/protocol';
import { readCode } from './core-client';
import { Mark } from './mark';
import { colour, font } from './theme';

/** What the independent reader makes of a code's own artwork, read afresh whenever the artwork changes. */
export function useReading(
  stamp: Stamp | undefined,
  values: Values | undefined,
  stamps: Stamp[],
  piece?: Piece,
): ReadingReport | undefined {
  const [report, setReport] = useState<{ key: string; report: ReadingReport }>();
  const key = stamp && values ? JSON.stringify([stamp, values, piece]) : '';
  useEffect(() => {
    if (!stamp || !values) return;
    let stale = false;
    readCode(stamp, values, piece, stamps).then(
      (r) => !stale && setReport({ key, report: r }),
      (error: unknown) => console.error(error),
    );
    return () => {
      stale = true;
    };
    // the key stands for stamp, values and piece
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return report?.key === key ? report.report : undefined;
}

export function ReadingWords({ report, payload }: { report: ReadingReport | undefined; payload: string }) {
  const style = { fontFamily: font.code, fontSize: 13.5, display: 'flex', gap: 7, alignItems: 'baseline' } as const;
  if (!report) return <span style={{ ...style, color: colour.inkSoft }}>reading …</span>;
  if (report.result === 'none') return <span style={style}>there is no code</span>;
  if (report.result === 'unread')
    return (
      <span style={{ ...style, color: colour.failed }}>
        <Mark name="failed" />
        does not read
      </span>
    );
  if (report.result === 'differs')
    return (
      <span style={{ ...style, color: colour.failed, wordBreak: 'break-all' }}>
        <Mark name="failed" />
        differently: {report.text}
      </span>
    );
  return (
    <span style={{ ...style, color: colour.ready }}>
      <Mark name="ready" />
      the same, {Array.from(payload).length} characters
    </span>
  );
}

/** What a phone does with a payload, in words. */
export function phoneWould(payload: string): string {
  const page = /^https?:\/\/([^/?#]+)/i.exec(payload);
  if (page) return `offer to open a page on ${page[1]}`;
  const other: [RegExp, string][] = [
    [/^mailto:/i, 'start a mail'],
    [/^tel:/i, 'offer to call'],
    [/^sms(to)?:/i, 'start a text message'],
    [/^geo:/i, 'show a place on the map'],
    [/^BEGIN:VCARD/i, 'offer to save a contact'],
    [/^BEGIN:VEVENT|^BEGIN:VCALENDAR/i, 'offer to add an event'],
    [/^WIFI:/i, 'offer to join a Wi-Fi network'],
  ];
  const known = other.find(([test]) => test.test(payload));
  if (known) return known[1];
  if (/^www\.|^[a-z0-9-]+(\.[a-z0-9-]+)+\//i.test(payload))
    return 'show it as text, or search for it: the address has no https:// before it';
  return 'show it as text';
}

'use client';

import { Fragment, useEffect, useState } from 'react';
import { unpack } from '../../core/payload/unpack';
import type { Stamp } from '../../core/payload/stamp';
import type { Piece } from '../../core/piece/model';
import type { Values } from '../../core/records/columns';
import type { SymbologyId } from '../../core/symbology';
import type { ReadingReport } from '../../workers/protocol';
import { readCode } from './core-client';
import { Mark } from './mark';
import { colour, font } from './theme';
import { reading as wording } from './words';
import { withParts } from './with-parts';

/**
 * The independent reader's result for a code's own artwork, updated whenever the artwork changes.
 */
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
    readCode({ stamp, values, piece, stamps }).then(
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

export function ReadingWords({
  report,
  payload,
}: {
  report: ReadingReport | undefined;
  payload: string;
}) {
  const style = {
    fontFamily: font.code,
    fontSize: 13.5,
    display: 'flex',
    gap: 7,
    alignItems: 'baseline',
  } as const;
  if (!report) return <span style={{ ...style, color: colour.inkSoft }}>{wording.reading}</span>;
  if (report.result === 'none') return <span style={style}>{wording.thereIsNoCode}</span>;
  if (report.result === 'unread')
    return (
      <span style={{ ...style, color: colour.failed }}>
        {withParts(wording.doesNotRead, <Mark name="failed" />)}
      </span>
    );
  if (report.result === 'differs')
    return (
      <span style={{ ...style, color: colour.failed, wordBreak: 'break-all' }}>
        {withParts(wording.different, <Mark name="failed" />, report.text)}
      </span>
    );
  return (
    <span style={{ ...style, color: colour.ready }}>
      {withParts(wording.correctCharacters, <Mark name="ready" />, Array.from(payload).length)}
    </span>
  );
}

/** The action of a phone for a payload, in words. */
export const phoneWould = (payload: string, elements: boolean): string =>
  unpack(payload, elements).does;
/** Whether codes of a symbology say that they hold GS1 elements. */
export const holdsElements = (symbology: SymbologyId): boolean => symbology.startsWith('gs1-');

/** A payload, field by field. */
export function UnpackedFields({ payload }: { payload: string }) {
  const { fields } = unpack(payload);
  if (fields.length === 0) return null;
  return (
    <dl
      style={{
        display: 'grid',
        gridTemplateColumns: 'max-content minmax(0, 1fr)',
        gap: '2px 12px',
        margin: '5px 0 0',
        fontSize: 13,
      }}
    >
      {fields.map(({ name, value }, i) => (
        <Fragment key={i}>
          <dt style={{ color: colour.inkSoft }}>{name}</dt>
          <dd
            style={{
              margin: 0,
              fontFamily: font.code,
              overflowWrap: 'anywhere',
              whiteSpace: 'pre-wrap',
            }}
          >
            {value}
          </dd>
        </Fragment>
      ))}
    </dl>
  );
}

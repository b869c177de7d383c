'use client';

import { useRef, useState } from 'react';
import { purposeOf } from '../../../core/payload/purposes';
import { contentOf, type Part, type Stamp } from '../../../core/payload/stamp';
import { maskPayload } from '../../../core/payload/secrets';
import type { Column } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { ChipLine, PutInColumn, withColumn, withGaps, withoutGaps, type Caret } from '../chips';
import { Check, MainButton, Small } from '../../kit/controls';
import { useBench } from './bench';
import { ByExample } from './by-example';
import { font } from '../../kit/theme';

/** Fixed text and columns as chips; a column goes in where the caret last was. */
export function ContentEditor({
  parts,
  columns,
  onChange,
  stamp,
}: {
  parts: readonly Part[];
  columns: readonly Column[];
  onChange: (parts: Part[], spaces?: Stamp['spaces']) => void;
  stamp?: Stamp;
}) {
  const { values } = useBench();
  const [spaces, setSpaces] = useState(stamp?.spaces);
  const [held, setHeld] = useState(() => withGaps(parts));
  const caret = useRef<Caret>({ part: held.length - 1, at: Number.MAX_SAFE_INTEGER });
  const put = (next: Part[]) => setHeld(withGaps(withoutGaps(next)));
  const said =
    stamp && values ? contentOf({ ...stamp, parts: withoutGaps(held), spaces }, values) : undefined;
  const says = (text: string) =>
    stamp && values
      ? shown(maskPayload(text, { ...stamp, parts: withoutGaps(held) }, values, columns))
      : shown(text);
  const changed =
    JSON.stringify(withoutGaps(held)) !== JSON.stringify(parts) || spaces !== stamp?.spaces;
  const inQuery =
    stamp &&
    purposeOf(stamp.does).byLink &&
    held.some((part) => part.kind === 'text' && part.text.includes('?'));
  return (
    <>
      <ChipLine
        label="Content: text and columns"
        held={held}
        columns={columns}
        caret={caret}
        onHeld={setHeld}
      />
      <PutInColumn
        columns={columns}
        onPut={(column) => {
          const next = withColumn(held, caret.current, column);
          setHeld(next.held);
          caret.current = next.caret;
        }}
      />
      {inQuery && (
        <Check on={spaces === 'plus'} onChange={(on) => setSpaces(on ? 'plus' : undefined)}>
          write spaces behind the question mark as +, as some forms want them
        </Check>
      )}
      {stamp && columns.length > 0 && (
        <ByExample
          stamp={stamp}
          onPropose={(proposal) => {
            put(proposal.parts);
            setSpaces(proposal.spaces === 'plus' ? 'plus' : undefined);
          }}
        />
      )}
      {said && (
        <div>
          <Small>The record in hand then says:</Small>
          <p
            style={{
              font: `400 13.5px/1.4 ${font.code}`,
              overflowWrap: 'anywhere',
              maxHeight: 110,
              overflow: 'auto',
            }}
          >
            {said.state === 'said'
              ? says(said.payload)
              : said.state === 'wrong'
                ? says(said.reason)
                : 'nothing: a column of it is blank'}
          </p>
        </div>
      )}
      <div>
        <MainButton isDisabled={!changed} onPress={() => onChange(withoutGaps(held), spaces)}>
          {changed ? 'Use this' : 'In use'}
        </MainButton>
      </div>
    </>
  );
}

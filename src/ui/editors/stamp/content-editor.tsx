'use client';

import { useRef, useState } from 'react';
import { plainlyOf } from '../../../core/payload/plainly';
import { addressPurpose, purposeOf } from '../../../core/payload/purposes';
import { contentOf, type Part, type Stamp } from '../../../core/payload/stamp';
import { maskPayload } from '../../../core/payload/secrets';
import type { Column } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { ChipLine, PutInColumn, withColumn, withGaps, withoutGaps, type Caret } from '../chips';
import { Check, MainButton, QuietButton, Small, Warning } from '../../kit/controls';
import { useBench } from './bench';
import { ByExample } from './by-example';
import { font } from '../../kit/theme';
import { contentEditor as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** Fixed text and columns as chips; a column is inserted at the caret. */
export function ContentEditor({
  parts,
  columns,
  onChange,
  stamp,
}: {
  parts: readonly Part[];
  columns: readonly Column[];
  /** `does` where another purpose was chosen with the content. */
  onChange: (parts: Part[], spaces?: Stamp['spaces'], does?: string) => void;
  /** The stamp of this content; undefined for texts that are not in a code. */
  stamp?: Stamp;
}) {
  const { values } = useBench();
  const [spaces, setSpaces] = useState(stamp?.spaces);
  const [does, setDoes] = useState(stamp?.does);
  const [held, setHeld] = useState(() => withGaps(parts));
  const caret = useRef<Caret>({ part: held.length - 1, at: Number.MAX_SAFE_INTEGER });
  const put = (next: Part[]) => setHeld(withGaps(withoutGaps(next)));
  const own: Stamp | undefined = stamp && {
    ...stamp,
    does: does ?? stamp.does,
    parts: withoutGaps(held),
    spaces,
  };
  const said = own && values ? contentOf(own, values) : undefined;
  const says = (text: string) =>
    own && values ? shown(maskPayload(text, own, values, columns)) : shown(text);
  const changed =
    JSON.stringify(withoutGaps(held)) !== JSON.stringify(parts) ||
    spaces !== stamp?.spaces ||
    does !== stamp?.does;
  const plainly = own && said?.state === 'said' ? plainlyOf(said.payload, own.does) : undefined;
  const inQuery =
    own &&
    purposeOf(own.does).byLink &&
    held.some((part) => part.kind === 'text' && part.text.includes('?'));
  return (
    <>
      <ChipLine
        label={wording.contentTextAndColumns}
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
          {wording.writeSpacesAfterThe}
        </Check>
      )}
      {own && columns.length > 0 && (
        <ByExample
          stamp={own}
          onPropose={(proposal, opens) => {
            put(proposal.parts);
            setSpaces(proposal.spaces === 'plus' ? 'plus' : undefined);
            if (opens) setDoes(opens);
          }}
        />
      )}
      {plainly && (
        <div style={{ display: 'grid', gap: 5 }}>
          <Warning>{plainlyWords(plainly)}</Warning>
          <div>
            <QuietButton onPress={() => setDoes(plainly)}>
              {withParts(wording.changeToAScan, purposeOf(plainly).does)}
            </QuietButton>
          </div>
        </div>
      )}
      {stamp && does !== stamp.does && (
        <Small>{withParts(wording.aScanThen, purposeOf(does!).does)}</Small>
      )}
      {said && (
        <div>
          <Small>{wording.forTheSelectedRecord}</Small>
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
                : wording.nothingAColumnOf}
          </p>
        </div>
      )}
      <div>
        <MainButton
          isDisabled={!changed}
          onPress={() =>
            does === stamp?.does
              ? onChange(withoutGaps(held), spaces)
              : onChange(withoutGaps(held), spaces, does)
          }
        >
          {changed ? wording.apply : wording.inUse}
        </MainButton>
      </div>
    </>
  );
}

const plainlyWords = (does: string): string =>
  does === addressPurpose
    ? wording.thisIsAWeb
    : filled(wording.thisLooksLikeThe, purposeOf(does).does);

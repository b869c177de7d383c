'use client';

import { useState } from 'react';
import { markPart, proposeParts, type Proposal } from '../../../core/payload/by-example';
import { purposeOf } from '../../../core/payload/purposes';
import { contentOf, type Stamp } from '../../../core/payload/stamp';
import { PlainButton, QuietButton, Small, Warning } from '../../kit/controls';
import { colour, font } from '../../kit/theme';
import { useBench } from './bench';

/**
 * One finished sample is pasted; what changes in it is found in the record in hand, and proven by
 * making the sample again.
 */
export function ByExample({
  stamp,
  onPropose,
}: {
  stamp: Stamp;
  onPropose: (proposal: Proposal) => void;
}) {
  const { columns, values } = useBench();
  const [open, setOpen] = useState(false);
  const [sample, setSample] = useState('');
  const [selected, setSelected] = useState('');
  const [marks, setMarks] = useState<readonly { text: string; column: string }[]>([]);
  if (!values) return null;
  if (!open)
    return (
      <div>
        <PlainButton
          onPress={() => setOpen(true)}
          style={{ padding: 0, textDecoration: 'underline', textUnderlineOffset: 3 }}
        >
          Show one finished example instead
        </PlainButton>
      </div>
    );
  const text = sample.trim();
  const found = text
    ? proposeParts(text, values, columns, purposeOf(stamp.does).byLink === true)
    : undefined;
  const proposal =
    found && marks.reduce((now, mark) => markPart(now, mark.text, mark.column), found);
  const made =
    proposal && contentOf({ ...stamp, parts: proposal.parts, spaces: proposal.spaces }, values);
  const again = made?.state === 'said' && made.payload === text;
  return (
    <div style={{ display: 'grid', gap: 7, borderTop: `1px solid ${colour.rule}`, paddingTop: 10 }}>
      <label style={{ display: 'grid', gap: 3, fontSize: 12.5, color: colour.inkSoft }}>
        Paste what the code of the record in hand should say
        <textarea
          autoFocus
          value={sample}
          onChange={(e) => {
            setSample(e.target.value);
            setMarks([]);
          }}
          onSelect={(e) =>
            setSelected(
              e.currentTarget.value
                .slice(e.currentTarget.selectionStart, e.currentTarget.selectionEnd)
                .trim(),
            )
          }
          rows={3}
          style={{
            font: `400 13.5px/1.4 ${font.code}`,
            color: colour.ink,
            border: `1px solid ${colour.ruleStrong}`,
            borderRadius: 2,
            padding: 6,
            resize: 'vertical',
          }}
        />
      </label>
      {proposal && selected === '' && (
        <Small>Select any part of it to say which column it is.</Small>
      )}
      {proposal && selected !== '' && (
        <div>
          <Small style={{ marginBottom: 4 }}>“{selected}” is</Small>
          <div
            style={{ display: 'flex', flexWrap: 'wrap', gap: 5, maxHeight: 110, overflow: 'auto' }}
          >
            {columns.map((c) => (
              <QuietButton
                key={c.id}
                aria-label={`${selected} is ${c.name}`}
                onPress={() => (
                  setMarks([...marks, { text: selected, column: c.id }]),
                  setSelected('')
                )}
                style={{ padding: '3px 8px' }}
              >
                {c.name}
              </QuietButton>
            ))}
          </div>
        </div>
      )}
      {proposal && proposal.found.length === 0 && proposal.otherwise.length === 0 && (
        <Warning>
          None of this record’s values stand in it. Is it the example of another record?
        </Warning>
      )}
      {proposal && proposal.otherwise.length > 0 && (
        <ul
          aria-label="In another form"
          style={{
            margin: 0,
            padding: 0,
            listStyle: 'none',
            display: 'grid',
            gap: 5,
            fontSize: 13,
          }}
        >
          {proposal.otherwise.map((o) => {
            const name = columns.find((c) => c.id === o.column)?.name;
            return (
              <li
                key={`${o.column} ${o.written}`}
                style={{
                  display: 'flex',
                  gap: 8,
                  alignItems: 'baseline',
                  justifyContent: 'space-between',
                }}
              >
                <span>
                  <span style={{ fontFamily: font.code, background: colour.lookWash }}>
                    {o.written}
                  </span>{' '}
                  looks like {name} in another form and stays fixed; as {name} it would be{' '}
                  <span style={{ fontFamily: font.code }}>{o.becomes}</span>
                </span>
                <QuietButton
                  aria-label={`${o.written} is ${name}`}
                  onPress={() => setMarks([...marks, { text: o.written, column: o.column }])}
                  style={{ padding: '3px 8px' }}
                >
                  It is {name}
                </QuietButton>
              </li>
            );
          })}
        </ul>
      )}
      {proposal && proposal.found.length > 0 && (
        <>
          <ul style={{ margin: 0, padding: 0, listStyle: 'none', fontSize: 13 }}>
            {proposal.found.map((f, i) => (
              <li key={i}>
                <span style={{ fontFamily: font.code, background: colour.violetWash }}>
                  {f.written}
                </span>{' '}
                is {columns.find((c) => c.id === f.column)?.name}
              </li>
            ))}
          </ul>
          <Small>
            {again && proposal.otherwise.length === 0
              ? 'This record gives your example back, letter by letter.'
              : again
                ? 'This record gives your example back, but what is told below stays fixed and would be the same for every record.'
                : 'This record would not give your example back letter by letter; look at the result below.'}
          </Small>
          <div>
            <QuietButton onPress={() => onPropose(proposal)}>Take these columns</QuietButton>
          </div>
        </>
      )}
    </div>
  );
}

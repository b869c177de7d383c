'use client';

import { useState } from 'react';
import {
  markPart,
  meantBy,
  mostSample,
  proposeParts,
  type Proposal,
} from '../../../core/payload/by-example';
import { plainlyOf } from '../../../core/payload/plainly';
import { addressPurpose, purposeOf } from '../../../core/payload/purposes';
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
  /** `opens`: the sample is a web address, so the stamp is to have this purpose. */
  onPropose: (proposal: Proposal, opens?: string) => void;
}) {
  const { columns, values } = useBench();
  const [open, setOpen] = useState(false);
  const [sample, setSample] = useState('');
  const [selected, setSelected] = useState('');
  const [marks, setMarks] = useState<readonly { text: string; column: string }[]>([]);
  const [meant, setMeant] = useState<ReadonlyMap<number, string>>(new Map());
  /** One more part is marked: what comes after it has another number then. */
  const mark = (text: string, column: string) => {
    setMarks([...marks, { text, column }]);
    setMeant(new Map());
  };
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
  // a web address is one whatever the stamp was for: values in it are encoded for their places
  const opens = plainlyOf(text, stamp.does) === addressPurpose ? addressPurpose : undefined;
  const does = opens ?? stamp.does;
  const found = text
    ? proposeParts(text, values, columns, purposeOf(does).byLink === true)
    : undefined;
  const marked = found && marks.reduce((now, mark) => markPart(now, mark.text, mark.column), found);
  const proposal =
    marked && [...meant].reduce((now, [part, column]) => meantBy(now, part, column), marked);
  const made =
    proposal &&
    contentOf({ ...stamp, does, parts: proposal.parts, spaces: proposal.spaces }, values);
  const again = made?.state === 'said' && made.payload === text;
  const nameOf = (id: string) => columns.find((c) => c.id === id)?.name;
  return (
    <div style={{ display: 'grid', gap: 7, borderTop: `1px solid ${colour.rule}`, paddingTop: 10 }}>
      <label style={{ display: 'grid', gap: 3, fontSize: 12.5, color: colour.inkSoft }}>
        Paste what the code of the selected record should say
        <textarea
          autoFocus
          value={sample}
          onChange={(e) => {
            setSample(e.target.value);
            setMarks([]);
            setMeant(new Map());
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
      {opens && <Small>This is a web address, so a scan will open a page.</Small>}
      {text.length > mostSample && (
        <Warning>
          This example has {text.length.toLocaleString('en')} characters; no code holds more than{' '}
          {mostSample.toLocaleString('en')}. Paste a shorter one.
        </Warning>
      )}
      {proposal && selected === '' && text.length <= mostSample && (
        <Small>Select a part of it to choose its column.</Small>
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
                onPress={() => {
                  mark(selected, c.id);
                  setSelected('');
                }}
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
          It contains none of this record’s values. Is it the example of another record?
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
                  {o.becomes === o.written ? (
                    <>may be {name}. It stays fixed unless you choose it.</>
                  ) : (
                    <>
                      looks like {name} in another form and stays fixed. As {name} it would be{' '}
                      <span style={{ fontFamily: font.code }}>{o.becomes}</span>.
                    </>
                  )}
                </span>
                <QuietButton
                  aria-label={`${o.written} is ${name}`}
                  onPress={() => mark(o.written, o.column)}
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
                is {nameOf(f.column)}
                {f.also.length > 0 && (
                  <span>
                    . This record has the same value in {f.also.map(nameOf).join(' and ')}.{' '}
                    {f.also.map((other) => (
                      <QuietButton
                        key={other}
                        aria-label={`${f.written} is ${nameOf(other)}`}
                        onPress={() => setMeant(new Map(meant).set(f.part, other))}
                        style={{ padding: '3px 8px', marginRight: 5 }}
                      >
                        Use {nameOf(other)}
                      </QuietButton>
                    ))}
                  </span>
                )}
              </li>
            ))}
          </ul>
          <Small>
            {again && proposal.otherwise.length === 0
              ? 'With these columns, this record gives exactly your example.'
              : again
                ? 'The example fits this record. But the parts listed above stay fixed: they would be the same on every code.'
                : 'With these columns, this record does not give exactly your example. Check the result below.'}
          </Small>
          <div>
            <QuietButton onPress={() => onPropose(proposal, opens)}>Use these columns</QuietButton>
          </div>
        </>
      )}
    </div>
  );
}

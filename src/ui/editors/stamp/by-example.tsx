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
import { byExample as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/**
 * One finished sample is pasted; its variable parts are found in the selected record, and proven by
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
  /** One more part is marked; the numbers of the parts after it change. */
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
          {wording.showOneFinishedExample}
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
        {withParts(
          wording.pasteWhatTheCode,
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
          />,
        )}
      </label>
      {opens && <Small>{wording.thisIsAWeb}</Small>}
      {text.length > mostSample && (
        <Warning>
          {withParts(
            wording.thisExampleHasCharacters,
            text.length.toLocaleString('en'),
            mostSample.toLocaleString('en'),
          )}
        </Warning>
      )}
      {proposal && selected === '' && text.length <= mostSample && (
        <Small>{wording.selectAPartOf}</Small>
      )}
      {proposal && selected !== '' && (
        <div>
          <Small style={{ marginBottom: 4 }}>{withParts(wording.is, selected)}</Small>
          <div
            style={{ display: 'flex', flexWrap: 'wrap', gap: 5, maxHeight: 110, overflow: 'auto' }}
          >
            {columns.map((c) => (
              <QuietButton
                key={c.id}
                aria-label={filled(wording.is2, selected, c.name)}
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
        <Warning>{wording.itContainsNoneOf}</Warning>
      )}
      {proposal && proposal.otherwise.length > 0 && (
        <ul
          aria-label={wording.inAnotherForm}
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
                  {o.becomes === o.written
                    ? withParts(wording.mayBeItStays, name)
                    : withParts(
                        wording.looksLikeInAnother,
                        name,
                        name,
                        <span style={{ fontFamily: font.code }}>{o.becomes}</span>,
                      )}
                </span>
                <QuietButton
                  aria-label={filled(wording.is2, o.written, name)}
                  onPress={() => mark(o.written, o.column)}
                  style={{ padding: '3px 8px' }}
                >
                  {withParts(wording.itIs, name)}
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
                {withParts(
                  wording.is3,
                  <span style={{ fontFamily: font.code, background: colour.violetWash }}>
                    {f.written}
                  </span>,
                  nameOf(f.column),
                  f.also.length > 0 && (
                    <span>
                      {withParts(
                        wording.thisRecordHasThe,
                        f.also.map(nameOf).join(' and '),
                        f.also.map((other) => (
                          <QuietButton
                            key={other}
                            aria-label={filled(wording.is2, f.written, nameOf(other))}
                            onPress={() => setMeant(new Map(meant).set(f.part, other))}
                            style={{ padding: '3px 8px', marginRight: 5 }}
                          >
                            {withParts(wording.use, nameOf(other))}
                          </QuietButton>
                        )),
                      )}
                    </span>
                  ),
                )}
              </li>
            ))}
          </ul>
          <Small>
            {again && proposal.otherwise.length === 0
              ? wording.withTheseColumnsThis
              : again
                ? wording.theExampleFitsThis
                : wording.withTheseColumnsThisRecord}
          </Small>
          <div>
            <QuietButton onPress={() => onPropose(proposal, opens)}>
              {wording.useTheseColumns}
            </QuietButton>
          </div>
        </>
      )}
    </div>
  );
}

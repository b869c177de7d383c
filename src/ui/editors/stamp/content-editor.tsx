'use client';

import { useRef, useState } from 'react';
import { styled } from 'styled-components';
import { contentOf, type Part, type Stamp } from '../../../core/payload/stamp';
import { maskPayload } from '../../../core/payload/secrets';
import type { Column } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { Check, MainButton, QuietButton, Small } from '../../kit/controls';
import { useBench } from './bench';
import { ByExample } from './by-example';
import { colour, font } from '../../kit/theme';

const Strip = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 3px;
  border: 1px solid ${colour.ruleStrong};
  border-radius: 2px;
  padding: 6px;
  min-width: 460px;
  font: 400 14px/1.4 ${font.code};
  input {
    border: 0;
    padding: 3px 1px;
    background: none;
    font: inherit;
    min-width: 12px;
    max-width: 100%;
    field-sizing: content;
  }
  input:focus {
    outline: none;
    background: ${colour.ground};
  }
  &:focus-within {
    border-color: ${colour.violet};
    box-shadow: 0 0 0 1px ${colour.violet};
  }
`;
const ColumnChip = styled.span`
  background: ${colour.violetWash};
  color: ${colour.violetDeep};
  border-radius: 2px;
  padding: 2px 2px 2px 7px;
  display: inline-flex;
  gap: 3px;
  align-items: center;
  button {
    all: unset;
    cursor: pointer;
    padding: 0 5px;
    color: ${colour.inkSoft};
  }
  button:focus-visible {
    outline: 2px solid ${colour.violet};
  }
`;

/** Text stands before, between and after columns, so that there is always a place to type. */
function withGaps(parts: readonly Part[]): Part[] {
  const out: Part[] = [{ kind: 'text', text: '' }];
  for (const part of parts) {
    const last = out.at(-1)!;
    if (part.kind === 'text' && last.kind === 'text') last.text += part.text;
    else if (part.kind === 'text') out.push({ ...part });
    else out.push(...(last.kind === 'column' ? [{ kind: 'text' as const, text: '' }] : []), part);
  }
  if (out.at(-1)!.kind === 'column') out.push({ kind: 'text', text: '' });
  return out;
}

const withoutGaps = (parts: readonly Part[]): Part[] =>
  parts.filter((part) => part.kind === 'column' || part.text !== '');

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
  const caret = useRef({ part: held.length - 1, at: Number.MAX_SAFE_INTEGER });
  const put = (next: Part[]) => setHeld(withGaps(withoutGaps(next)));
  const insert = (column: string) => {
    const { part, at } = caret.current;
    const here = held[part];
    const text = here?.kind === 'text' ? here.text : '';
    const next = [
      ...held.slice(0, part),
      { kind: 'text' as const, text: text.slice(0, at) },
      { kind: 'column' as const, column },
      { kind: 'text' as const, text: text.slice(at) },
      ...held.slice(part + 1),
    ];
    const before = withoutGaps(next.slice(0, part + 2)).length;
    put(next);
    caret.current = { part: Math.min(before * 2, withGaps(withoutGaps(next)).length - 1), at: 0 };
  };
  const said =
    stamp && values ? contentOf({ ...stamp, parts: withoutGaps(held), spaces }, values) : undefined;
  const says = (text: string) =>
    stamp && values
      ? shown(maskPayload(text, { ...stamp, parts: withoutGaps(held) }, values, columns))
      : shown(text);
  const changed =
    JSON.stringify(withoutGaps(held)) !== JSON.stringify(parts) || spaces !== stamp?.spaces;
  const inQuery =
    stamp?.does === 'page' && held.some((part) => part.kind === 'text' && part.text.includes('?'));
  return (
    <>
      <Strip role="group" aria-label="Content: text and columns">
        {held.map((part, i) =>
          part.kind === 'text' ? (
            <input
              key={i}
              aria-label={`Text ${Math.floor(i / 2) + 1}`}
              value={part.text}
              size={Math.max(1, part.text.length)}
              style={i === held.length - 1 ? { flex: 1 } : undefined}
              onChange={(e) => {
                caret.current = { part: i, at: e.target.selectionStart ?? e.target.value.length };
                setHeld(held.map((p, k) => (k === i ? { kind: 'text', text: e.target.value } : p)));
              }}
              onSelect={(e) =>
                (caret.current = { part: i, at: e.currentTarget.selectionStart ?? 0 })
              }
            />
          ) : (
            <ColumnChip key={i}>
              {columns.find((c) => c.id === part.column)?.name ?? 'a removed column'}
              <button
                type="button"
                aria-label={`Take ${columns.find((c) => c.id === part.column)?.name ?? 'the column'} out`}
                onClick={() => put(held.filter((_, k) => k !== i))}
              >
                ×
              </button>
            </ColumnChip>
          ),
        )}
      </Strip>
      {columns.length > 0 && (
        <div>
          <Small style={{ marginBottom: 4 }}>Put in a column:</Small>
          <div
            style={{ display: 'flex', flexWrap: 'wrap', gap: 5, maxHeight: 120, overflow: 'auto' }}
          >
            {columns.map((column) => (
              <QuietButton
                key={column.id}
                onPress={() => insert(column.id)}
                style={{ padding: '3px 8px' }}
              >
                {column.name}
              </QuietButton>
            ))}
          </div>
        </div>
      )}
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

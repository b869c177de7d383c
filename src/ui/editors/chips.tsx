'use client';

import type { KeyboardEvent, RefObject, SyntheticEvent } from 'react';
import { styled } from 'styled-components';
import type { Part } from '../../core/records/parts';
import type { Column } from '../../core/records/columns';
import { QuietButton, Small } from '../kit/controls';
import { colour, font } from '../kit/theme';
import { chips as wording } from './words';
import { filled } from '../kit/with-parts';

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
  input,
  textarea {
    border: 0;
    padding: 3px 1px;
    background: none;
    font: inherit;
    min-width: 12px;
    max-width: 100%;
    field-sizing: content;
  }
  textarea {
    resize: none;
    overflow: hidden;
  }
  input:focus,
  textarea:focus {
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

/** There is text before, between and after columns, so that there is always a place to type. */
export function withGaps(parts: readonly Part[]): Part[] {
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

export const withoutGaps = (parts: readonly Part[]): Part[] =>
  parts.filter((part) => part.kind === 'column' || part.text !== '');

/**
 * The last position of the caret: in which part of a content, and after how many characters of it.
 */
export interface Caret {
  part: number;
  at: number;
}

/** A content with a column inserted at the caret, and the new caret. */
export function withColumn(
  held: readonly Part[],
  { part, at }: Caret,
  column: string,
): { held: Part[]; caret: Caret } {
  const here = held[part];
  const text = here?.kind === 'text' ? here.text : '';
  const next = [
    ...held.slice(0, part),
    { kind: 'text' as const, text: text.slice(0, at) },
    { kind: 'column' as const, column },
    { kind: 'text' as const, text: text.slice(at) },
    ...held.slice(part + 1),
  ];
  // text and columns alternate: the text after the nth column has the index twice n
  const columns = next.slice(0, part + 2).filter((p) => p.kind === 'column').length;
  return { held: withGaps(withoutGaps(next)), caret: { part: columns * 2, at: 0 } };
}

/** One line of fixed text with columns as chips. */
export function ChipLine({
  label,
  held,
  columns,
  caret,
  onHeld,
  onFocus,
  onEnter,
  onEmptyBack,
  wraps,
  lines,
}: {
  label: string;
  /** With gaps. */
  held: readonly Part[];
  columns: readonly Column[];
  caret: RefObject<Caret>;
  onHeld: (held: Part[]) => void;
  onFocus?: () => void;
  onEnter?: () => void;
  /** Backspace in an empty content. */
  onEmptyBack?: () => void;
  /** Long text goes on in the next line. */
  wraps?: boolean;
  /** It may have several lines of its own. */
  lines?: boolean;
}) {
  return (
    <Strip role="group" aria-label={label} onFocus={onFocus}>
      {held.map((part, i) =>
        part.kind === 'text' ? (
          <TextField
            key={i}
            wraps={wraps}
            lines={lines}
            label={`Text ${Math.floor(i / 2) + 1}`}
            text={part.text}
            last={i === held.length - 1}
            onCaret={(at) => (caret.current = { part: i, at })}
            onText={(text) => onHeld(held.map((p, k) => (k === i ? { kind: 'text', text } : p)))}
            onKeyDown={(e) => {
              if (e.key === 'Enter' && onEnter) {
                e.preventDefault();
                onEnter();
              }
              if (e.key === 'Backspace' && withoutGaps(held).length === 0) onEmptyBack?.();
            }}
          />
        ) : (
          <ColumnChip key={i}>
            {columns.find((c) => c.id === part.column)?.name ?? wording.aDeletedColumn}
            <button
              type="button"
              aria-label={filled(
                wording.remove,
                columns.find((c) => c.id === part.column)?.name ?? wording.theColumn,
              )}
              onClick={() => {
                // the caret stays where the column was, between the texts that are joined there
                const text = held[i - 1];
                caret.current = { part: i - 1, at: text?.kind === 'text' ? text.text.length : 0 };
                onHeld(withGaps(withoutGaps(held.filter((_, k) => k !== i))));
              }}
            >
              ×
            </button>
          </ColumnChip>
        ),
      )}
    </Strip>
  );
}

/** The fixed text between two columns. */
function TextField({
  wraps,
  lines,
  label,
  text,
  last,
  onCaret,
  onText,
  onKeyDown,
}: {
  wraps?: boolean;
  lines?: boolean;
  label: string;
  text: string;
  last: boolean;
  onCaret: (at: number) => void;
  onText: (text: string) => void;
  onKeyDown: (event: KeyboardEvent) => void;
}) {
  type Event = SyntheticEvent<HTMLInputElement | HTMLTextAreaElement>;
  const shared = {
    'aria-label': label,
    value: text,
    style: last ? { flex: 1 } : undefined,
    onChange: ({ currentTarget }: Event) => {
      onCaret(currentTarget.selectionStart ?? currentTarget.value.length);
      onText(lines ? currentTarget.value : currentTarget.value.replace(/[\r\n]+/g, ' '));
    },
    onSelect: ({ currentTarget }: Event) => onCaret(currentTarget.selectionStart ?? 0),
    onKeyDown,
  };
  return wraps ? (
    <textarea rows={1} {...shared} />
  ) : (
    <input size={Math.max(1, text.length)} {...shared} />
  );
}

/** The columns that can be put into a content. */
export function PutInColumn({
  columns,
  onPut,
}: {
  columns: readonly Column[];
  onPut: (column: string) => void;
}) {
  if (columns.length === 0) return null;
  return (
    <div>
      <Small style={{ marginBottom: 4 }}>{wording.addAColumn}</Small>
      <div style={{ display: 'flex', flexWrap: 'wrap', gap: 5, maxHeight: 120, overflow: 'auto' }}>
        {columns.map((column) => (
          <QuietButton
            key={column.id}
            onPress={() => onPut(column.id)}
            style={{ padding: '3px 8px' }}
          >
            {column.name}
          </QuietButton>
        ))}
      </div>
    </div>
  );
}

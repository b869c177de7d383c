'use client';

import { useRef, useState } from 'react';
import type { Part } from '../../../core/records/parts';
import type { Column } from '../../../core/records/columns';
import {
  type Caret,
  ChipLine,
  PutInColumn,
  withColumn,
  withGaps,
  withoutGaps,
} from '../../editors/chips';
import { Small } from '../../kit/controls';

/** Words with columns in them, and the columns that can be put in. */
export function ChipWords({
  label,
  parts,
  columns,
  onChange,
  wraps,
}: {
  label: string;
  parts: readonly Part[];
  columns: readonly Column[];
  onChange: (parts: Part[]) => void;
  wraps?: boolean;
}) {
  const [held, setHeld] = useState(() => withGaps(parts));
  const caret = useRef<Caret>({ part: held.length - 1, at: 10_000 });
  const say = (next: Part[]) => {
    setHeld(next);
    onChange(withoutGaps(next));
  };
  return (
    <div style={{ display: 'grid', gap: 6 }}>
      <Small>{label}</Small>
      <ChipLine
        label={label}
        held={held}
        columns={columns}
        caret={caret}
        onHeld={say}
        wraps={wraps}
        lines={wraps}
      />
      <PutInColumn
        columns={columns}
        onPut={(column) => {
          const next = withColumn(held, caret.current, column);
          caret.current = next.caret;
          say(next.held);
        }}
      />
    </div>
  );
}

import type { ReactNode } from 'react';
import { Small } from './controls';
import { colour } from './theme';

/** A heading with a long list below it that scrolls. */
export function Scroll({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div>
      <Small style={{ marginBottom: 4 }}>{label}</Small>
      <div
        style={{
          border: `1px solid ${colour.rule}`,
          padding: 10,
          maxHeight: 180,
          overflow: 'auto',
        }}
      >
        {children}
      </div>
    </div>
  );
}

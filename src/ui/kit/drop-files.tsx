'use client';

import type { ReactNode } from 'react';
import { DropZone, isFileDropItem } from 'react-aria-components';
import { styled } from 'styled-components';
import { colour } from './theme';

const Zone = styled(DropZone)`
  border: 1px dashed ${colour.ruleStrong};
  border-radius: 3px;
  padding: 12px;
  display: grid;
  gap: 10px;
  &[data-drop-target] {
    border-color: ${colour.violet};
    background: ${colour.violetWash};
  }
  &[data-focus-visible] {
    outline: 2px solid ${colour.violet};
  }
`;

/** Takes files that are dropped on it; what is in it offers another way. */
export function DropFiles({
  label,
  onFiles,
  children,
}: {
  label: string;
  onFiles: (files: File[]) => void;
  children: ReactNode;
}) {
  return (
    <Zone
      aria-label={label}
      onDrop={(e) => {
        const items = e.items.filter(isFileDropItem);
        if (items.length > 0) void Promise.all(items.map((item) => item.getFile())).then(onFiles);
      }}
    >
      {children}
    </Zone>
  );
}

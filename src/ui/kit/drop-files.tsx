'use client';

import type { ReactNode } from 'react';
import {
  DropZone,
  isDirectoryDropItem,
  isFileDropItem,
  type DirectoryDropItem,
  type DropItem,
} from 'react-aria-components';
import { styled } from 'styled-components';
import { useMay } from './me';
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

/** Most files of a folder, and how deep its folders may lie. */
const mostFiles = 20_000;
const deepest = 8;

/** The dropped files, with those in dropped folders. */
async function filesOf(items: Iterable<DropItem> | DirectoryDropItem, deep = 0): Promise<File[]> {
  const files: File[] = [];
  const entries = 'getEntries' in items ? items.getEntries() : items;
  for await (const item of entries) {
    if (files.length >= mostFiles) break;
    if (isFileDropItem(item)) files.push(await item.getFile());
    else if (isDirectoryDropItem(item) && deep < deepest)
      files.push(...(await filesOf(item, deep + 1)));
  }
  return files;
}

/** Accepts files and folders by drag and drop; its children offer another way. */
export function DropFiles({
  label,
  onFiles,
  children,
}: {
  label: string;
  onFiles: (files: File[]) => void;
  children: ReactNode;
}) {
  const may = useMay();
  if (!may) return null;
  return (
    <Zone
      aria-label={label}
      onDrop={(e) => {
        void filesOf(e.items).then((files) => files.length > 0 && onFiles(files));
      }}
    >
      {children}
    </Zone>
  );
}

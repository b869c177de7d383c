'use client';

import { useState } from 'react';
import type { Stamp } from '../../../core/payload/stamp';
import type { Values } from '../../../core/records/columns';
import type { CodeFileKind } from '../../../workers/protocol';
import { ErrorLine, QuietButton, Small } from '../../kit/controls';
import { codeFile } from '../../kit/core-client';
import { saveRow as wording } from './words';
import { filled } from '../../kit/with-parts';

const kinds: readonly { kind: CodeFileKind; name: string; type: string; good: string }[] = [
  {
    kind: 'svg',
    name: 'SVG',
    type: 'image/svg+xml',
    good: wording.webPagesAndDrawing,
  },
  {
    kind: 'png',
    name: 'PNG',
    type: 'image/png',
    good: wording.documentsSpreadsheetsAndScreens,
  },
  {
    kind: 'pdf',
    name: 'PDF',
    type: 'application/pdf',
    good: wording.printExactlyAsLarge,
  },
  {
    kind: 'eps',
    name: 'EPS',
    type: 'application/postscript',
    good: wording.printersLayoutProgramsThat,
  },
  {
    kind: 'jpeg',
    name: 'JPEG',
    type: 'image/jpeg',
    good: wording.programsThatAcceptNothing,
  },
];

/** Downloads of a code, each with a word on its use. */
export function SaveRow({ stamp, values, title }: { stamp: Stamp; values: Values; title: string }) {
  const [said, setSaid] = useState<string>();
  const [problem, setProblem] = useState<string>();
  const [hint, setHint] = useState(kinds[0]);
  const guarded = async (work: () => Promise<string | undefined>) => {
    setProblem(undefined);
    setSaid(undefined);
    try {
      setSaid(await work());
    } catch (error) {
      setProblem(error instanceof Error ? error.message : wording.thatDidNotWork);
    }
  };
  const make = async ({ kind, type }: (typeof kinds)[number]) =>
    new Blob([(await codeFile(stamp, values, kind, title)) as BlobPart], { type });
  const save = (kind: (typeof kinds)[number]) =>
    guarded(async () => {
      const link = document.createElement('a');
      link.href = URL.createObjectURL(await make(kind));
      link.download = `${safe(title)}.${kind.kind === 'jpeg' ? 'jpg' : kind.kind}`;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
      return undefined;
    });
  const copy = () =>
    guarded(async () => {
      // there is none on pages that came neither over HTTPS nor from this very machine
      if (!('clipboard' in navigator)) throw new Error(wording.yourBrowserBlockedCopying);
      // the picture may still be loading when the clipboard is opened, as browsers require
      await navigator.clipboard.write([new ClipboardItem({ 'image/png': make(kinds[1]!) })]);
      return wording.copiedAsAPicture;
    });
  return (
    <div>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap', alignItems: 'center' }}>
        {kinds.map((kind) => (
          <QuietButton
            looks
            key={kind.kind}
            onPress={() => void save(kind)}
            onHoverStart={() => setHint(kind)}
            onFocus={() => setHint(kind)}
          >
            {kind.name}
          </QuietButton>
        ))}
        <QuietButton looks onPress={() => void copy()}>
          {wording.copy}
        </QuietButton>
      </div>
      <Small style={{ marginTop: 5, minHeight: 34 }} role="status">
        {said ?? filled(wording.isGoodFor, hint!.name, hint!.good)}
      </Small>
      {problem && <ErrorLine>{problem}</ErrorLine>}
    </div>
  );
}

/** A file name that every system takes. */
const safe = (title: string): string =>
  title
    .replace(/[\\/:*?"<>|\p{Cc}]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 80) || 'code';

'use client';

import { useState } from 'react';
import { PlainButton, QuietButton, Small } from '../../kit/controls';
import { copyText, notCopied } from '../../kit/copy';
import { colour, font } from '../../kit/theme';
import { once as wording } from './words';
import { withParts } from '../../kit/with-parts';

/** A secret that is shown this once, to be put where its program finds it. */
export function Once({ what, value, onDone }: { what: string; value: string; onDone: () => void }) {
  const [copied, setCopied] = useState<boolean>();
  return (
    <div
      role="status"
      style={{
        background: colour.paper,
        border: `1.5px solid ${colour.violet}`,
        padding: '12px 16px',
        display: 'grid',
        gap: 8,
        marginBottom: 16,
        maxWidth: 760,
      }}
    >
      <p>{withParts(wording.copyThisNowPut, what, <b>{wording.youWillNotSee}</b>)}</p>
      <code style={{ font: `400 14px/1.4 ${font.code}`, overflowWrap: 'anywhere' }}>{value}</code>
      <div style={{ display: 'flex', gap: 10 }}>
        <QuietButton onPress={() => void copyText(value).then(setCopied)}>
          {copied ? wording.copied : wording.copy}
        </QuietButton>
        <PlainButton onPress={onDone}>{wording.done}</PlainButton>
      </div>
      {copied === false && <Small role="alert">{notCopied}</Small>}
    </div>
  );
}

'use client';

import { useServerInsertedHTML } from 'next/navigation';
import { useState, type ReactNode } from 'react';
import { ServerStyleSheet, StyleSheetManager } from 'styled-components';

/** Collects styles while the server renders, so that pages arrive dressed. */
export function StyleRegistry({
  nonce,
  children,
}: {
  /** Which style elements of this answer may apply (CSP Level 3). */
  nonce: string | undefined;
  children: ReactNode;
}) {
  const [sheet] = useState(() => new ServerStyleSheet(nonce === undefined ? {} : { nonce }));
  const [sent] = useState(() => ({ nonce: false }));
  useServerInsertedHTML(() => {
    const styles = sheet.getStyleElement();
    sheet.instance.clearTag();
    // the head of the layout has it too, but a document for a page that is not there begins without
    // that head, and styled-components looks for the nonce as soon as it is loaded
    const meta = !sent.nonce && nonce !== undefined && (
      <meta key="nonce" property="csp-nonce" nonce={nonce} />
    );
    sent.nonce = true;
    return (
      <>
        {meta}
        {styles}
      </>
    );
  });
  if (typeof window !== 'undefined') return <>{children}</>;
  return <StyleSheetManager sheet={sheet.instance}>{children}</StyleSheetManager>;
}

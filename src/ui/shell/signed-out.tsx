'use client';

import { useEffect, useState } from 'react';
import { styled } from 'styled-components';
import { signedOutEvent } from '../kit/api';
import { colour } from '../kit/theme';
import { signedOut as wording } from './words';
import { withParts } from '../kit/with-parts';

const Bar = styled.div`
  position: fixed;
  inset: auto 0 0;
  z-index: 60;
  background: ${colour.ink};
  color: ${colour.paper};
  padding: 12px 20px;
  display: flex;
  gap: 14px;
  a {
    color: ${colour.paper};
    font-weight: 700;
  }
`;

/** Shown when the session has ended; the contents of the window stay. */
export function SignedOut() {
  const [out, setOut] = useState(false);
  useEffect(() => {
    const hear = () => setOut(true);
    window.addEventListener(signedOutEvent, hear);
    return () => window.removeEventListener(signedOutEvent, hear);
  }, []);
  if (!out) return null;
  return (
    <Bar role="alert">
      {withParts(
        wording.youAreSignedOut,
        <a href={`/sign-in?to=${encodeURIComponent(location.pathname + location.search)}`}>
          {wording.signInAgain}
        </a>,
      )}
    </Bar>
  );
}

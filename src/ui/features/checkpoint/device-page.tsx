'use client';

import { useEffect, useState, type ReactNode } from 'react';
import { createGlobalStyle } from 'styled-components';
import { ask } from '../../kit/api';
import { Brand } from '../../kit/brand';
import { ErrorLine, MainButton, Small } from '../../kit/controls';
import { remembered } from '../../kit/remembered';
import { colour, font } from '../../kit/theme';
import { StationScreen } from './station';
import { devicePage as wording } from './words';

const Global = createGlobalStyle`
  *, *::before, *::after { box-sizing: border-box; }
  html, body { height: 100%; margin: 0; }
  body { background: ${colour.ground}; color: ${colour.ink}; font: 400 15px/1.4 ${font.text}; }
  h1, p { margin: 0; }
  button, input { font: inherit; color: inherit; }
  :focus-visible, [data-focus-visible] { outline: 2px solid ${colour.violet}; outline-offset: 1px; }
`;

const kept = 'hand-stamp checkpoint';

/**
 * A device at a checkpoint: it joins by the code that it scanned, and can then do nothing else.
 */
export function DevicePage() {
  const [token, setToken] = useState<string>();
  const [checkpoint, setCheckpoint] = useState<number | null>();
  useEffect(() => {
    const given = location.hash.slice(1);
    // what comes after the number sign, and what is stored, is known in the browser only
    if (given) setToken(given);
    setCheckpoint(Number(remembered.get(kept)) || null);
    void navigator.serviceWorker
      ?.register('/device.js', { scope: '/k' })
      .then(keepPage, () => undefined);
  }, []);
  return (
    <>
      <Global />
      {token !== undefined ? (
        <Join
          token={token}
          joined={(id) => {
            remembered.set(kept, String(id));
            history.replaceState(null, '', '/k');
            setToken(undefined);
            setCheckpoint(id);
          }}
        />
      ) : checkpoint ? (
        <div style={{ height: '100dvh' }}>
          <StationScreen
            checkpoint={checkpoint}
            device
            leave={(why) => (
              <Plain title={wording.thisDeviceWasRemoved}>
                <p>{why}</p>
                <Small>{wording.scansThatWereNot}</Small>
              </Plain>
            )}
          />
        </div>
      ) : (
        checkpoint === null && (
          <Plain title={wording.thisDeviceHasNot}>
            <p>{wording.onTheCoordinatorsScreen}</p>
          </Plain>
        )
      )}
    </>
  );
}

/** Has the service worker hold what this page is made of, so that it opens without a network. */
async function keepPage(): Promise<void> {
  const ready = await navigator.serviceWorker.ready;
  const parts = performance
    .getEntriesByType('resource')
    .map((entry) => entry.name)
    .filter((name) => name.startsWith(location.origin) && !name.includes('/api/checkpoints/'));
  ready.active?.postMessage({ keep: ['/k', ...parts] });
}

function Join({ token, joined }: { token: string; joined: (checkpoint: number) => void }) {
  const [error, setError] = useState<string>();
  const [busy, setBusy] = useState(false);
  return (
    <Plain title={wording.joinThisCheckpoint}>
      <p>{wording.thisDeviceCanThen}</p>
      {error && <ErrorLine role="alert">{error}</ErrorLine>}
      <div>
        <MainButton
          looks
          isDisabled={busy}
          onPress={() => {
            setBusy(true);
            ask('joinCheckpoint', { body: { token } }).then(
              ({ checkpoint }) => joined(checkpoint),
              (e: unknown) => {
                setBusy(false);
                setError(e instanceof Error ? e.message : String(e));
              },
            );
          }}
        >
          {wording.useThisDeviceHere}
        </MainButton>
      </div>
    </Plain>
  );
}

function Plain({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main
      style={{
        padding: '9vh 22px 30px',
        maxWidth: 520,
        margin: '0 auto',
        display: 'grid',
        gap: 14,
        alignContent: 'start',
      }}
    >
      <Brand />
      <h1 style={{ font: `700 26px/1.25 ${font.title}` }}>{title}</h1>
      {children}
    </main>
  );
}

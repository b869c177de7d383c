'use client';

import { Link } from '../../kit/link';
import { StationScreen } from './station';
import { scanPage as wording } from './words';

/** Scanning in a browser in which a person is signed in. */
export function ScanPage({ id }: { id: number }) {
  return (
    <main style={{ minHeight: 0, height: '100%' }}>
      <StationScreen
        checkpoint={id}
        device={false}
        leave={(why) => (
          <div style={{ padding: 24, display: 'grid', gap: 10 }}>
            <p role="alert">{why}</p>
            <Link href="/checkpoints">{wording.allCheckpoints}</Link>
          </div>
        )}
      />
    </main>
  );
}

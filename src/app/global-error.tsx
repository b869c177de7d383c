'use client';

/** Shown if a page and its layout fail. Its styles are attributes, which need no nonce (CSP). */
export default function GlobalError() {
  return (
    <html lang="en">
      <body style={{ font: '16px/1.5 system-ui, sans-serif', margin: '12vh auto', maxWidth: 520 }}>
        <h1 style={{ fontSize: 24 }}>This page could not be shown</h1>
        <p>Nothing you saved is lost. Load the page again, or go back to your jobs.</p>
        <p>
          <button type="button" onClick={() => location.reload()}>
            Load the page again
          </button>{' '}
          <a href="/jobs">Go to Jobs</a>
        </p>
      </body>
    </html>
  );
}

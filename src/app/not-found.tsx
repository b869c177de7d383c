import { Link } from '../ui/kit/link';

/** The page of an unknown address, also on a phone; nothing of the workspace is loaded. */
export default function NotFound() {
  return (
    <main
      style={{
        maxWidth: '34rem',
        margin: '0 auto',
        padding: '12vh 20px 40px',
        font: "400 16px/1.5 'Atkinson Hyperlegible Next', system-ui, sans-serif",
        color: '#1d1a26',
      }}
    >
      <h1 style={{ font: "700 26px/1.2 'Bricolage Grotesque', sans-serif", margin: '0 0 12px' }}>
        There is nothing at this address
      </h1>
      <p style={{ margin: '0 0 12px' }}>
        It may have been deleted, or part of the address is missing. If you scanned a code, tell the
        person who gave it to you.
      </p>
      <p style={{ margin: 0 }}>
        If you make the codes yourself, go to <Link href="/jobs">all jobs</Link>.
      </p>
    </main>
  );
}

import { Link } from '../../ui/kit/link';

export default function NotFound() {
  return (
    <main style={{ padding: 30 }}>
      <h1>That is not here</h1>
      <p>
        It may have been removed. <Link href="/jobs">All jobs</Link> are one step away.
      </p>
    </main>
  );
}

import { Link } from '../../ui/kit/link';

export default function NotFound() {
  return (
    <main style={{ padding: 30 }}>
      <h1>This page does not exist</h1>
      <p>
        It may have been deleted. Go to <Link href="/jobs">all jobs</Link>.
      </p>
    </main>
  );
}

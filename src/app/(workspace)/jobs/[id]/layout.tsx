import type { ReactNode } from 'react';
import { mayOf } from './may';

/**
 * Answers 404 for a missing job before anything of its page is sent: after a loading page was sent,
 * the status can no longer change.
 */
export default async function Layout({
  params,
  children,
}: {
  params: Promise<{ id: string }>;
  children: ReactNode;
}) {
  await mayOf(Number((await params).id));
  return children;
}

import type { ReactNode } from 'react';
import { mayOf } from './may';

/**
 * Says that a job is not here before anything of its page is sent: what comes behind a page that is
 * shown while it loads can change its address and its status no more.
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

import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { standInsFor, whoAsks } from '@/server/access';
import { database } from '@/server/platform';
import { earlyHandsScript } from '@/ui/kit/early-hands';
import { StyleRegistry } from '@/ui/kit/registry';
import { Frame } from '@/ui/shell/frame';

/** The workspace, for people who are signed in. Public pages load nothing of it. */
export default async function Layout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <>
      <script
        nonce={nonce}
        suppressHydrationWarning
        dangerouslySetInnerHTML={{ __html: earlyHandsScript }}
      />
      <StyleRegistry nonce={nonce}>
        <Frame me={await whoIsHere()}>{children}</Frame>
      </StyleRegistry>
    </>
  );
}

/**
 * The person who is signed in, so that the page need not ask. While the database is away nobody is
 * known.
 */
async function whoIsHere() {
  try {
    const asked = await headers();
    const person = await whoAsks(database(), asked);
    if (!person) return undefined;
    const { id, name, email, right } = person;
    return { person: { id, name, email, right }, standIns: await standInsFor(database(), asked) };
  } catch {
    return undefined;
  }
}

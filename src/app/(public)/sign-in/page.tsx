import { headers } from 'next/headers';
import { standInsFor } from '@/server/access';
import { database } from '@/server/platform';
import { SignIn } from '@/ui/features/sign-in/sign-in';

export default async function Page() {
  return <SignIn standIns={await standInsFor(database(), await headers())} />;
}

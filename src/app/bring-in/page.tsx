import type { Metadata } from 'next';
import { BringIn } from '@/ui/intake/bring-in';

export const metadata: Metadata = { title: 'Bring in records · Hand Stamp' };

export default function Page() {
  return <BringIn />;
}

import type { Metadata } from 'next';
import { BringIn } from '@/ui/features/bring-in/bring-in';

export const metadata: Metadata = { title: 'Bring in records · Hand Stamp' };

export default function Page() {
  return <BringIn />;
}

import { notFound } from 'next/navigation';
import { RoundPage } from '@/ui/features/checkpoint/round-page';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  if (!/^\d{1,9}$/.test(id)) notFound();
  return <RoundPage id={Number(id)} />;
}

import { notFound } from 'next/navigation';
import { CheckpointPage } from '@/ui/features/checkpoint/checkpoint-page';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  if (!/^\d{1,9}$/.test(id)) notFound();
  return <CheckpointPage id={Number(id)} />;
}

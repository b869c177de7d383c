import { notFound } from 'next/navigation';
import { ScanPage } from '@/ui/features/checkpoint/scan-page';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  if (!/^\d{1,9}$/.test(id)) notFound();
  return <ScanPage id={Number(id)} />;
}

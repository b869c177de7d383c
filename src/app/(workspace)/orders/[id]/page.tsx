import { notFound } from 'next/navigation';
import { OrdersPage } from '@/ui/features/orders/orders-page';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  if (!/^\d{1,9}$/.test(id)) notFound();
  return <OrdersPage id={Number(id)} />;
}

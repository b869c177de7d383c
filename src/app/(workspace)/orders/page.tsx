import { OrdersPage } from '@/ui/features/orders/orders-page';

export default function Page() {
  return <OrdersPage id={undefined} />;
}

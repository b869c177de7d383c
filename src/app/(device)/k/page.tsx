import { DevicePage } from '@/ui/features/checkpoint/device-page';

export default function Page() {
  return <DevicePage />;
}

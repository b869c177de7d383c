import { CheckpointsPage } from '@/ui/features/checkpoint/checkpoints-page';

export default function Page() {
  return <CheckpointsPage />;
}

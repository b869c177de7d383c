import { OneCode } from '@/ui/one-code/one-code';

export default function Page() {
  return <OneCode />;
}

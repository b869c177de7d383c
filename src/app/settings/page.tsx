import { SettingsPage } from '@/ui/settings-page';

export default function Page() {
  return <SettingsPage />;
}

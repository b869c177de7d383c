import { SettingsPage } from '@/ui/features/settings/settings-page';

export default function Page() {
  return <SettingsPage />;
}

import { openApi } from '@/server/api';
import { baseAddress, database } from '@/server/platform';
import { ProgramsPage, type Described } from '@/ui/features/programs/programs-page';

export const dynamic = 'force-dynamic';

export default async function Page() {
  const base = await baseAddress(database());
  return <ProgramsPage described={openApi(base) as unknown as Described} />;
}

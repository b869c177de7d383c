import * as contract from '@/contract';
import { handle, standInsFor } from '@/server/access';

export const GET = handle(contract.viewMe, async ({ db, request, person }) => ({
  person: { id: person.id, name: person.name, email: person.email, right: person.right },
  standIns: await standInsFor(db, request.headers),
}));

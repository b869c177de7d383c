import * as contract from '@/contract';
import { handle } from '@/server/access';
import { viewDocument } from '@/server/documents';

export const GET = handle(contract.viewDocument, ({ db, params }) => viewDocument(db, params.id));

import * as contract from '@/contract';
import { viewDocument } from '@/server/documents';
import { handle } from '@/server/platform';

export const GET = handle(contract.viewDocument, ({ db, params }) => viewDocument(db, params.id));

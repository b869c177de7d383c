import * as contract from '@/contract';
import { hasOffice, officePackage } from '@/server/documents';
import { handle } from '@/server/platform';

export const GET = handle(contract.viewTools, async () => ({
  office: { there: hasOffice(), package: officePackage },
}));

import * as contract from '@/contract';
import { handle } from '@/server/access';
import { hasOffice, officePackage } from '@/server/documents';

export const GET = handle(contract.viewTools, async () => ({
  office: { there: hasOffice(), package: officePackage },
}));

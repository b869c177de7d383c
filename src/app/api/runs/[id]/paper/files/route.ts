import * as contract from '@/contract';
import { handle } from '@/server/access';
import { bytesOf, fileNameOf, Refusal } from '@/server/platform';
import { listPaperFiles, takePaperFile } from '@/server/runs';

export const GET = handle(contract.listPaperFiles, async ({ db, params }) => ({
  files: await listPaperFiles(db, params.id),
}));

export const POST = handle(contract.readPaperFile, async ({ request, db, params, actor }) => {
  const bytes = await bytesOf(
    request,
    contract.readPaperFile.upload.most,
    () => new Refusal('The scan is larger than 60 MB. Scan it in parts.', 413),
  );
  return {
    id: await takePaperFile(db, params.id, fileNameOf(request, 'scan'), Buffer.from(bytes), actor),
  };
});

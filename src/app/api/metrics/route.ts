import * as contract from '@/contract';
import { handle, metricsText } from '@/server/access';

export const GET = handle(contract.viewMetrics, async ({ db }) => {
  const { text, type } = await metricsText(db);
  return new Response(text, { headers: { 'content-type': type } });
});

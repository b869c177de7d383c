import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiChangeLink, apiLink, linkTagOf } from '@/server/api';

export const GET = handle(contract.apiLink, async ({ db, caller, params, answerHeaders }) => {
  const link = await apiLink(db, caller, params.code);
  answerHeaders.set('etag', linkTagOf(link));
  return link;
});

export const PATCH = handle(
  contract.apiChangeLink,
  async ({ db, caller, params, body, tell, request, answerHeaders }) => {
    tell(params.code);
    const match = request.headers.get('if-match');
    const link = await apiChangeLink(db, caller, params.code, body, match);
    answerHeaders.set('etag', linkTagOf(link));
    return link;
  },
);

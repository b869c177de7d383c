import { doorHosts } from '@/server/door';
import { numberParam, route } from '@/server/http';

export const GET = route(async (asked) => ({ hosts: await doorHosts(asked.db, numberParam(asked), asked.query.get('stamp') ?? '') }));

import { allRoutes } from '../src/contract';
import { rights, rightWords } from '../src/core/access/rights';

const words: Record<string, string> = {
  anyone: 'anyone, without signing in',
  'signed-in': 'whoever is signed in',
};

/** The table of who may use which route, as the contract declares it: `docs/rights.md`. */
export function rightsPage(): string {
  const rows = allRoutes
    .map(([, r]) => r)
    .sort((a, b) =>
      a.path === b.path ? a.method.localeCompare(b.method) : a.path < b.path ? -1 : 1,
    )
    .map(
      (r) =>
        `| ${r.method} | \`${r.path}\` | ${r.key ? `a key that ${r.key}` : (words[r.right] ?? r.right)} | ${r.of ?? ''} | ${r.method === 'GET' || r.asks ? '' : r.tape ? 'on its tape' : 'yes'} | ${r.about.replaceAll('|', '\\|')} |`,
    );
  return [
    '# Who may use which route',
    '',
    'Made from the contract by `npm run routes`; a test compares it with what every route really does. Each right includes those below it:',
    '',
    ...[...rights].reverse().map((right) => `- **${right}**: ${rightWords[right].about}`),
    '',
    'Where a thing is shared with somebody, the share counts for it as the right would. Pages of other origins are refused whoever is signed in.',
    '',
    '| Method | Route | Needs | Shared by | Changes | What it does |',
    '| --- | --- | --- | --- | --- | --- |',
    ...rows,
    '',
  ].join('\n');
}

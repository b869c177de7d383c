import { format, resolveConfig } from 'prettier';
import { allRoutes } from '../src/contract';

/**
 * What a browser needs of every route to ask it, without the schemas: `src/contract/paths.ts`.
 * Routes for programs that bring a key are not among them: no browser asks those.
 */
export async function pathsFile(): Promise<string> {
  const lines = allRoutes
    .filter(([, route]) => !route.key)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, { method, path, right }]) =>
      JSON.stringify([method, path, ...(right === 'anyone' ? [right] : [])]).replace(
        /^/,
        `${name}: `,
      ),
    );
  const file = 'src/contract/paths.ts';
  return format(
    [
      '/**',
      ' * Method and path of every route that a browser asks, by its name in the contract, and whether',
      ' * anyone may. Made from the contract by `npm run routes`; a test compares them.',
      ' */',
      'export const paths = {',
      ...lines.map((line) => `${line},`),
      '} as const;',
      '',
    ].join('\n'),
    { ...(await resolveConfig(file)), filepath: file },
  );
}

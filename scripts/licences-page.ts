import { readFileSync } from 'node:fs';

interface Locked {
  version?: string;
  license?: string;
  dev?: boolean;
  optional?: boolean;
}

/**
 * Every package that runs in the product, with its licence, from the lockfile of npm: one page,
 * `docs/licences.md`. The typefaces are packages too.
 */
export function licencesPage(): string {
  const { packages } = JSON.parse(readFileSync('package-lock.json', 'utf8')) as {
    packages: Record<string, Locked>;
  };
  const rows = new Map<string, string>();
  for (const [path, { version, license, dev, optional }] of Object.entries(packages)) {
    const name = path.split('node_modules/').at(-1);
    // packages for other platforms are not installed here; their main packages are listed
    if (!name || dev || optional) continue;
    rows.set(`${name} ${version}`, `| ${name} | ${version} | ${license ?? 'see its package'} |`);
  }
  const isFont = (row: string) => /font(source|\b|s\/)/.test(row) && row.includes('OFL');
  const all = [...rows].sort(([a], [b]) => a.localeCompare(b)).map(([, row]) => row);
  const table = (rows: string[]) => [
    '| Package | Version | Licence |',
    '| --- | --- | --- |',
    ...rows,
  ];
  return [
    '# Licences',
    '',
    'Made by `npm run routes` from the lockfile.',
    '',
    '## Typefaces',
    '',
    ...table(all.filter(isFont)),
    '',
    '## Packages',
    '',
    ...table(all.filter((row) => !isFont(row))),
    '',
  ].join('\n');
}

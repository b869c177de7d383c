/**
 * `npm run routes`: writes generated files: docs/rights.md and the paths from the contract, the
 * glossary from the explained words, the licences from the lockfile.
 */
import { writeFileSync } from 'node:fs';
import { glossaryPage } from './glossary-page';
import { licencesPage } from './licences-page';
import { pathsFile } from './paths-file';
import { rightsPage } from './rights-page';

writeFileSync('docs/rights.md', rightsPage());
writeFileSync('src/contract/paths.ts', await pathsFile());
writeFileSync('docs/guide/12-glossary.md', glossaryPage());
writeFileSync('docs/licences.md', licencesPage());

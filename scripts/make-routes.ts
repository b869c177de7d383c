/** `npm run routes`: writes what is made of the contract, docs/rights.md and the paths. */
import { writeFileSync } from 'node:fs';
import { pathsFile } from './paths-file';
import { rightsPage } from './rights-page';

writeFileSync('docs/rights.md', rightsPage());
writeFileSync('src/contract/paths.ts', await pathsFile());

/** `npm run routes`: writes what is made from the contract, docs/rights.md and src/contract/paths.ts. */
import { writeFileSync } from 'node:fs';
import { pathsFile } from './paths-file';
import { rightsPage } from './rights-page';

writeFileSync('docs/rights.md', rightsPage());
writeFileSync('src/contract/paths.ts', await pathsFile());

/** `npm run rights`: writes docs/rights.md. */
import { writeFileSync } from 'node:fs';
import { rightsPage } from './rights-page';

writeFileSync('docs/rights.md', rightsPage());

import type { Migration } from 'kysely';
import * as first from './0001-first';
import * as lists from './0002-lists';
import * as printing from './0003-printing';
import * as keys from './0004-keys';
import * as runPictures from './0005-run-pictures';
import * as newAddresses from './0006-new-addresses';
import * as doubts from './0007-doubts';
import * as news from './0008-news';
import * as freshness from './0009-freshness';
import * as checked from './0010-checked';
import * as sources from './0011-sources';
import * as retention from './0012-retention';
import * as noStandIns from './0013-no-stand-ins';
import * as documents from './0014-documents';
import * as pdfs from './0015-pdfs';
import * as mail from './0016-mail';
import * as codesOnPdfs from './0017-codes-on-pdfs';
import * as groups from './0018-groups';
import * as codesOfRows from './0019-codes-of-rows';
import * as lockedPdfs from './0020-locked-pdfs';
import * as people from './0021-people';
import * as links from './0022-links';
import * as recordPages from './0023-record-pages';
import * as fetchYourOwn from './0024-fetch-your-own';
import * as keysForPrograms from './0025-keys-for-programs';
import * as webhooks from './0026-webhooks';
import * as firstIntakes from './0027-first-intakes';
import * as checkpoints from './0028-checkpoints';
import * as rounds from './0029-rounds';
import * as checkInByOneself from './0030-check-in-by-oneself';
import * as printedProof from './0031-printed-proof';
import * as realPrinters from './0032-real-printers';
import * as paperFiles from './0033-paper-files';
import * as standingOrders from './0034-standing-orders';
import * as printsByRecord from './0035-prints-by-record';
import * as verdictOfCodes from './0036-verdict-of-codes';
import * as doorsAndStuckWork from './0037-doors-and-stuck-work';
import * as roles from './0038-roles';

/** In order of their names. A migration that has landed is never changed; add the next one. */
export const migrations: Record<string, Migration> = {
  '0001-first': first,
  '0002-lists': lists,
  '0003-printing': printing,
  '0004-keys': keys,
  '0005-run-pictures': runPictures,
  '0006-new-addresses': newAddresses,
  '0007-doubts': doubts,
  '0008-news': news,
  '0009-freshness': freshness,
  '0010-checked': checked,
  '0011-sources': sources,
  '0012-retention': retention,
  '0013-no-stand-ins': noStandIns,
  '0014-documents': documents,
  '0015-pdfs': pdfs,
  '0016-mail': mail,
  '0017-codes-on-pdfs': codesOnPdfs,
  '0018-groups': groups,
  '0019-codes-of-rows': codesOfRows,
  '0020-locked-pdfs': lockedPdfs,
  '0021-people': people,
  '0022-links': links,
  '0023-record-pages': recordPages,
  '0024-fetch-your-own': fetchYourOwn,
  '0025-keys-for-programs': keysForPrograms,
  '0026-webhooks': webhooks,
  '0027-first-intakes': firstIntakes,
  '0028-checkpoints': checkpoints,
  '0029-rounds': rounds,
  '0030-check-in-by-oneself': checkInByOneself,
  '0031-printed-proof': printedProof,
  '0032-real-printers': realPrinters,
  '0033-paper-files': paperFiles,
  '0034-standing-orders': standingOrders,
  '0035-prints-by-record': printsByRecord,
  '0036-verdict-of-codes': verdictOfCodes,
  '0037-doors-and-stuck-work': doorsAndStuckWork,
  '0038-roles': roles,
};

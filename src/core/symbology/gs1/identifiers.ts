/**
 * Application identifiers of the GS1 General Specifications: what follows each, and its data title.
 * The list was written from knowledge of the standard, whose text was not at hand. The independent
 * writer takes a least value of each and refuses one that is too long
 * (tests/core/symbology/gs1.test.ts), which does not prove every set and greatest length; 02, 03,
 * 37, 8030, 8110 and 8112 are not compared. Where several numbers share a meaning, the last digit n
 * gives the place of the decimal point.
 *
 * A format is a row of parts: N digits, X characters of set 82, Y of set 39, Z of the file-safe
 * base 64 set; a number is an exact length, `..n` a greatest length, `?` marks a part that may be
 * missing. After a colon stands what is checked besides: `check` modulo-10 check digit, `date`
 * YYMMDD (DD may be 00), `pair` alphanumeric check pair, `country`/`time`/`flag` ranges.
 */
export interface Identifier {
  ai: string;
  title: string;
  parts: readonly Part[];
  /** Of predefined length: no separator follows it. */
  fixed: boolean;
}

export interface Part {
  set: 'N' | 'X' | 'Y' | 'Z';
  least: number;
  most: number;
  /** All of it, or nothing if it may be missing. */
  whole: boolean;
  check?: 'check' | 'date' | 'pair' | 'time' | 'flag';
}

const table = `
00 N18:check SSCC|01 N14:check GTIN|02 N14:check CONTENT|03 N14:check MTO GTIN|10 X..20 BATCH/LOT|11 N6:date PROD DATE|12 N6:date DUE DATE|13 N6:date PACK DATE
15 N6:date BEST BEFORE|16 N6:date SELL BY|17 N6:date EXPIRY|20 N2 VARIANT|21 X..20 SERIAL|22 X..20 CPV|235 X..28 TPX|240 X..30 ADDITIONAL ID
241 X..30 CUST. PART No.|242 N..6 MTO VARIANT|243 X..20 PCN|250 X..30 SECONDARY SERIAL|251 X..30 REF. TO SOURCE|253 N13:check,X..17? GDTI
254 X..20 GLN EXTENSION COMPONENT|255 N13:check,N..12? GCN|30 N..8 VAR. COUNT|37 N..8 COUNT|400 X..30 ORDER NUMBER|401 X..30 GINC|402 N17:check GSIN|403 X..30 ROUTE
410 N13:check SHIP TO LOC|411 N13:check BILL TO|412 N13:check PURCHASE FROM|413 N13:check SHIP FOR LOC|414 N13:check LOC No.|415 N13:check PAY TO
416 N13:check PROD/SERV LOC|417 N13:check PARTY|420 X..20 SHIP TO POST|421 N3,X..9 SHIP TO POST|422 N3 ORIGIN|423 N3,N..12? COUNTRY - INITIAL PROCESS
424 N3 COUNTRY - PROCESS|425 N3,N..12? COUNTRY - DISASSEMBLY|426 N3 COUNTRY - FULL PROCESS|427 X..3 ORIGIN SUBDIVISION
4300 X..35 SHIP TO COMP|4301 X..35 SHIP TO NAME|4302 X..70 SHIP TO ADD1|4303 X..70 SHIP TO ADD2|4304 X..70 SHIP TO SUB|4305 X..70 SHIP TO LOC|4306 X..70 SHIP TO REG
4307 X2 SHIP TO COUNTRY|4308 X..30 SHIP TO PHONE|4309 N20 SHIP TO GEO|4310 X..35 RTN TO COMP|4311 X..35 RTN TO NAME|4312 X..70 RTN TO ADD1|4313 X..70 RTN TO ADD2
4314 X..70 RTN TO SUB|4315 X..70 RTN TO LOC|4316 X..70 RTN TO REG|4317 X2 RTN TO COUNTRY|4318 X..20 RTN TO POST|4319 X..30 RTN TO PHONE|4320 X..35 SRV DESCRIPTION
4321 N1:flag DANGEROUS GOODS|4322 N1:flag AUTH LEAVE|4323 N1:flag SIG REQUIRED|4324 N10:time NBEF DEL DT|4325 N10:time NAFT DEL DT|4326 N6:date REL DATE
4330 N6,X1? MAX TEMP F.|4331 N6,X1? MAX TEMP C.|4332 N6,X1? MIN TEMP F.|4333 N6,X1? MIN TEMP C.
7001 N13 NSN|7002 X..30 MEAT CUT|7003 N10:time EXPIRY TIME|7004 N..4 ACTIVE POTENCY|7005 X..12 CATCH AREA|7006 N6:date FIRST FREEZE DATE|7007 N6:date,N6:date? HARVEST DATE
7008 X..3 AQUATIC SPECIES|7009 X..10 FISHING GEAR TYPE|7010 X..2 PROD METHOD|7011 N6:date,N4? TEST BY DATE|7020 X..20 REFURB LOT|7021 X..20 FUNC STAT|7022 X..20 REV STAT
7023 X..30 GIAI - ASSEMBLY|7040 N1,X3 UIC+EXT|7041 X..4 UFRGT UNIT TYPE|710 X..20 NHRN PZN|711 X..20 NHRN CIP|712 X..20 NHRN CN|713 X..20 NHRN DRN|714 X..20 NHRN AIM
715 X..20 NHRN NDC|716 X..20 NHRN AIC|7240 X..20 PROTOCOL|7241 N2 AIDC MEDIA TYPE|7242 X..25 VCN|7250 N8 DOB|7251 N12 DOB TIME|7252 N1 BIO SEX|7253 X..40 FAMILY NAME
7254 X..40 GIVEN NAME|7255 X..10 SUFFIX|7256 X..90 FULL NAME|7257 X..70 PERSON ADDR|7258 X3 BIRTH SEQUENCE|7259 X..40 BABY
8001 N14 DIMENSIONS|8002 X..20 CMT No.|8003 N14:check,X..16? GRAI|8004 X..30 GIAI|8005 N6 PRICE PER UNIT|8006 N14:check,N4 ITIP|8007 X..34 IBAN|8008 N8,N2?,N2? PROD TIME
8009 X..50 OPTSEN|8010 Y..30 CPID|8011 N..12 CPID SERIAL|8012 X..20 VERSION|8013 X..25:pair GMN|8017 N18:check GSRN - PROVIDER|8018 N18:check GSRN - RECIPIENT
8019 N..10 SRIN|8020 X..25 REF No.|8026 N14:check,N4 ITIP CONTENT|8030 Z..90 DIGSIG|8110 X..70 COUPON|8111 N4 POINTS|8112 X..70 COUPON|8200 X..70 PRODUCT URL|90 X..30 INTERNAL`;

/**
 * Rows of four-digit identifiers whose last digit is the decimal point's place (or a number in
 * series): prefix, last digits, format, title.
 */
const families: readonly (readonly [
  prefix: string,
  last: number,
  format: string,
  title: string,
])[] = [
  ...(
    [
      '310 NET WEIGHT (kg)',
      '311 LENGTH (m)',
      '312 WIDTH (m)',
      '313 HEIGHT (m)',
      '314 AREA (m2)',
      '315 NET VOLUME (l)',
      '316 NET VOLUME (m3)',
    ] as const
  ).map((row) => [row.slice(0, 3), 5, 'N6', row.slice(4)] as const),
  ...[320, 321, 322, 323, 324, 325, 326, 327, 328, 329, 330, 331, 332, 333, 334, 335, 336, 337].map(
    (n) => [String(n), 5, 'N6', 'MEASURE'] as const,
  ),
  ...[340, 341, 342, 343, 344, 345, 346, 347, 348, 349, 350, 351, 352, 353, 354, 355, 356, 357].map(
    (n) => [String(n), 5, 'N6', 'MEASURE'] as const,
  ),
  ...[360, 361, 362, 363, 364, 365, 366, 367, 368, 369].map(
    (n) => [String(n), 5, 'N6', 'MEASURE'] as const,
  ),
  ['390', 9, 'N..15', 'AMOUNT'],
  ['391', 9, 'N3,N..15', 'AMOUNT'],
  ['392', 9, 'N..15', 'PRICE'],
  ['393', 9, 'N3,N..15', 'PRICE'],
  ['394', 3, 'N4', 'PRCNT OFF'],
  ['395', 5, 'N6', 'PRICE/UoM'],
  ['703', 9, 'N3,X..27', 'PROCESSOR'],
  ['723', 9, 'X2,X..28', 'CERT'],
];

/**
 * First two digits of identifiers that no separator has to follow (GS1 General Specifications,
 * predefined length).
 */
const predefined = new Set(
  '00 01 02 03 04 11 12 13 14 15 16 17 18 19 20 31 32 33 34 35 36 41'.split(' '),
);

function parsePart(text: string): Part {
  const [, set, upTo, length, optional, , check] = /^([NXYZ])(\.\.)?(\d+)(\?)?(:(\w+)(\?)?)?$/.exec(
    text.replace(/^(.*):(\w+)\?$/, '$1?:$2'),
  )!;
  const most = Number(length);
  return {
    set: set as Part['set'],
    least: optional ? 0 : upTo ? 1 : most,
    most,
    whole: !upTo,
    check: check as Part['check'],
  };
}

const known = new Map<string, Identifier>();
function add(ai: string, format: string, title: string): void {
  known.set(ai, {
    ai,
    title,
    parts: format.split(',').map(parsePart),
    fixed: predefined.has(ai.slice(0, 2)),
  });
}
for (const row of table.trim().split(/[|\n]/)) {
  const [ai, format, ...title] = row.split(' ');
  add(ai!, format!, title.join(' '));
}
for (const [prefix, last, format, title] of families)
  for (let n = 0; n <= last; n++) add(`${prefix}${n}`, format, title);
for (let n = 91; n <= 99; n++) add(String(n), 'X..90', 'INTERNAL');

export const identifiers: ReadonlyMap<string, Identifier> = known;

/**
 * The identifier with which a text begins, or undefined. No identifier is the beginning of another.
 */
export function identifierAt(text: string, at: number): Identifier | undefined {
  for (const length of [2, 3, 4]) {
    const found = known.get(text.slice(at, at + length));
    if (found) return found;
  }
  return undefined;
}

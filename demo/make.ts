/**
 * Makes the demo lists of Marram Bay Botanic Garden and Seed Library. Everything in them is
 * invented. The same files each time: `npx tsx demo/make.ts`.
 */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { utils, write, type BookType } from '@e965/xlsx';

const folder = import.meta.dirname;
type Cell = string | number | null;
type Row = Cell[];

/** A small seeded generator (mulberry32), so that the files never change by themselves. */
function seeded(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
const random = seeded(20261112);
const pick = <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)]!;
const between = (low: number, high: number): number =>
  low + Math.floor(random() * (high - low + 1));
const pad = (n: number, width: number): string => String(n).padStart(width, '0');
const token = (length: number): string =>
  Array.from({ length }, () => pick([...'abcdefghjkmnpqrstuvwxyz23456789'])).join('');

function save(
  name: string,
  sheetName: string,
  rows: Row[],
  type: BookType,
  extra?: (sheet: ReturnType<typeof utils.aoa_to_sheet>) => void,
): void {
  const book = utils.book_new();
  const sheet = utils.aoa_to_sheet(rows);
  extra?.(sheet);
  utils.book_append_sheet(book, sheet, sheetName);
  book.Props = { Title: sheetName, CreatedDate: new Date(Date.UTC(2026, 10, 1)) };
  writeFileSync(
    join(folder, name),
    write(book, { type: 'buffer', bookType: type, compression: true }) as Buffer,
  );
}

function saveText(
  name: string,
  rows: Row[],
  separator: string,
  encode: (text: string) => Buffer,
): void {
  const quote = (cell: Cell) => {
    const text = String(cell ?? '');
    return text.includes(separator) || /["\n]/.test(text)
      ? `"${text.replaceAll('"', '""')}"`
      : text;
  };
  writeFileSync(
    join(folder, name),
    encode(`${rows.map((row) => row.map(quote).join(separator)).join('\r\n')}\r\n`),
  );
}

const first = [
  'Ines',
  'Tam',
  'Joss',
  'Rune',
  'Perpetua',
  'Anselm',
  'Wren',
  'Isolde',
  'Teo',
  'Amaryllis',
  'Corin',
  'Hester',
  'Lior',
  'Saskia',
  'Bram',
  'Odile',
  'Fenn',
  'Maude',
  'Piran',
  'Thea',
  'Ivo',
  'Linnea',
  'Caspian',
  'Roisin',
  'Emrys',
  'Zelda',
  'Alaric',
  'Nell',
  'Osric',
  'Vesper',
  'Jory',
  'Merle',
  'Sunniva',
  'Tobin',
  'Una',
  'Cade',
  'Briar',
  'Elowen',
  'Gareth',
  'Imke',
];
const last = [
  'Okafor-Lindqvist',
  'Bellweather',
  'Amadi',
  'Castellan',
  'Quill',
  'Dray',
  'Halloran',
  'Marchbanks',
  'Brandt',
  'Fenn',
  'Vale',
  'Lowe',
  'Saltmarsh',
  'Thornby',
  'Eelgrass',
  'Penrose',
  'Kestrel',
  'Ashgrove',
  'Winslade',
  'Harrow',
  'Tideswell',
  'Orme',
  'Lackland',
  'Sandry',
  'Mereweather',
  'Coldbrook',
  'Pell',
  'Reedham',
  'Sorrel',
  'Wick',
  'Dunmore',
  'Averill',
  'Blythe',
  'Carrow',
  'Heath',
];
const otherScripts = [
  'Σοφία Καρρά',
  'Keiko Marsh 桂子',
  'Łukasz Święcicki',
  'Νίκος Δρόσος',
  'Елена Морозко',
  'דניאל שחר',
  'سلمى نور',
  'अनन्या राव',
  'Dvořák Jiřina',
  'Ольга Ветрова',
  'Þórdís Hvönn',
  'Haruto 陽斗 Sea',
  'Gül Şafak',
  'Zoë Æbelø',
];
const sites = [
  ['DH', 'Dune House'],
  ['SM', 'Salt Meadow'],
  ['GH', 'Glasshouse'],
] as const;

function fullName(): string {
  return `${pick(first)} ${pick(last)}`;
}
const mailOf = (name: string, n: number): string =>
  `${
    name
      .normalize('NFD')
      .toLowerCase()
      .replace(/[^a-z]+/g, '.')
      .replace(/^\.|\.$/g, '') || 'volunteer'
  }${n}@post.example`;

function volunteers(): Row[] {
  const rows: Row[] = [['Badge no', 'Name', 'Role', 'Site', 'Shift', 'E-mail', 'Token', 'Joined']];
  const roles = ['Steward', 'Guide', 'Seed table', 'Gate', 'First aid', 'Plant sale'];
  const fixed = [
    'Ines Okafor-Lindqvist',
    'Tam Bellweather',
    'Σοφία Καρρά',
    'Bartholomew Featherstonehaugh-Winterbourne',
    'Joss Amadi',
    'Keiko Marsh 桂子',
    'Odalys Penhallow',
    'Rune Castellan',
    'Perpetua Quill',
    'Anselm Dray',
  ];
  const fixedSites = [0, 0, 1, 1, 1, 2, 2, 2, 2, 0];
  const taken = new Set<string>(fixed);
  for (let i = 0; i < 182; i++) {
    const [code, site] = i < 10 ? sites[fixedSites[i]!]! : pick(sites);
    let name = fixed[i] ?? (i % 13 === 5 ? otherScripts[Math.floor(i / 13)] : undefined);
    while (!name || (i >= 10 && taken.has(name))) name = fullName();
    taken.add(name);
    let badge = `${code}-${pad(142 + i, 4)}`;
    if (i === 6) badge = '';
    if (i === 96) badge = String(rows[96]![0]);
    const day = pad(between(1, 28), 2);
    rows.push([
      badge,
      name,
      pick(roles),
      site,
      pick(['Sat morning', 'Sat afternoon', 'Sun morning', 'Sun afternoon']),
      i === 57 ? 'no e-mail' : mailOf(name, i),
      token(10),
      `${day}.${pad(between(1, 9), 2)}.2026`,
    ]);
  }
  return rows;
}

function equipment(): Row[] {
  const rows: Row[] = [['Tag', 'Item', 'Kind', 'Where', 'Bought', 'Serial', 'Note']];
  const kinds: [string, string[]][] = [
    ['Pump', ['Bilge pump', 'Irrigation pump', 'Pond pump', 'Drum pump']],
    [
      'Sensor',
      [
        'Soil moisture probe',
        'Leaf wetness sensor',
        'Salinity probe',
        'Light meter',
        'Frost alarm',
      ],
    ],
    [
      'Tool',
      [
        'Loppers',
        'Border spade',
        'Pole pruner',
        'Wheelbarrow',
        'Dibber set',
        'Grafting knife',
        'Rake, 60 cm',
      ],
    ],
    ['Case', ['Seed case, 24 drawers', 'Drying rack', 'Cool box']],
  ];
  for (let i = 0; i < 240; i++) {
    const [kind, items] = pick(kinds);
    const tag =
      i === 33
        ? 'PMP-0033 '
        : i === 118
          ? 'TOO-O118'
          : `${kind.slice(0, 3).toUpperCase()}-${pad(i, 4)}`;
    rows.push([
      tag,
      i === 71 ? '' : pick(items),
      kind,
      pick(sites)[1],
      `${between(2016, 2026)}-${pad(between(1, 12), 2)}-${pad(between(1, 28), 2)}`,
      pad(between(0, 99999999), 8),
      i % 40 === 0 ? 'Prüfung fällig; siehe Heft' : '',
    ]);
  }
  return rows;
}

function checkDigit(digits: string): string {
  let sum = 0;
  for (let i = 0; i < digits.length; i++)
    sum += Number(digits[digits.length - 1 - i]) * (i % 2 === 0 ? 3 : 1);
  return String((10 - (sum % 10)) % 10);
}

function packets(): Row[] {
  const rows: Row[] = [
    ['Product number', 'Variety', 'Kind', 'Price', 'Net weight g', 'Sow by', 'Lot'],
  ];
  const varieties = [
    'Sea kale',
    'Samphire',
    'Sea holly',
    'Horned poppy',
    'Thrift',
    'Marram',
    'Sea beet',
    'Alexanders',
    'Scurvy grass',
    'Oysterleaf',
    'Sea aster',
    'Restharrow',
    'Viper’s bugloss',
    'Evening primrose',
    'Sea campion',
  ];
  const kinds = ['early', 'tall', 'dwarf', 'late'];
  for (let i = 0; i < 60; i++) {
    const body = `20004${pad(1100 + i * 7, 7)}`;
    let number = body + checkDigit(body);
    // the usual accidents: a wrong last digit, a leading zero that a spreadsheet took away
    if (i === 17) number = body + String((Number(checkDigit(body)) + 3) % 10);
    if (i === 41) number = `4000${pad(7000 + i, 6)}${checkDigit(`04000${pad(7000 + i, 6)}`)}`;
    rows.push([
      Number(number),
      `${varieties[i % 15]}, ${kinds[Math.floor(i / 15)]}`,
      pick(['Vegetable', 'Flower', 'Herb']),
      `${between(2, 5)}.${pick(['20', '50', '80'])}`,
      pick([0.5, 1, 2, 5]),
      `${pad(between(1, 12), 2)}/2028`,
      `L${pad(between(1, 400), 4)}`,
    ]);
  }
  return rows;
}

function accessions(): Row[] {
  const rows: Row[] = [
    ['Accession', 'Plant', 'Common name', 'Family', 'Bed', 'Site', 'Received', 'Source', 'Page'],
  ];
  const plants = [
    ['Crambe maritima', 'Sea kale', 'Brassicaceae'],
    ['Eryngium maritimum', 'Sea holly', 'Apiaceae'],
    ['Glaucium flavum', 'Horned poppy', 'Papaveraceae'],
    ['Armeria maritima', 'Thrift', 'Plumbaginaceae'],
    ['Ammophila arenaria', 'Marram', 'Poaceae'],
    ['Crithmum maritimum', 'Rock samphire', 'Apiaceae'],
    ['Tripolium pannonicum', 'Sea aster', 'Asteraceae'],
    ['Limonium vulgare', 'Sea lavender', 'Plumbaginaceae'],
    ['Calystegia soldanella', 'Sea bindweed', 'Convolvulaceae'],
    ['Honckenya peploides', 'Sea sandwort', 'Caryophyllaceae'],
    ['Cakile maritima', 'Sea rocket', 'Brassicaceae'],
    ['Echium vulgare', 'Viper’s bugloss', 'Boraginaceae'],
  ];
  for (let i = 0; i < 1200; i++) {
    const [plant, common, family] = pick(plants);
    const year = between(1998, 2026);
    const number = i === 402 ? '' : i === 700 ? String(rows[700]![0]) : `${year}.${pad(i + 1, 4)}`;
    const page =
      i === 250 ? 'marrambay.example/plants/250' : `https://marrambay.example/plants/${i + 1}`;
    rows.push([
      number,
      plant!,
      common!,
      family!,
      i % 57 === 0 ? '' : `${pick(['A', 'B', 'C', 'D', 'E'])}${between(1, 48)}`,
      pick(sites)[1],
      `${year}-${pad(between(1, 12), 2)}-${pad(between(1, 28), 2)}`,
      pick(['Collected, Long Strand', 'Exchange', 'Gift', 'Seed vault']),
      page,
    ]);
  }
  return rows;
}

function friends(): Row[] {
  const rows: Row[] = [
    ['Friend no', 'Name', 'Street', 'Town', 'Postcode', 'Since', 'Personal link', 'E-mail'],
  ];
  const towns = ['Marram', 'Strandwick', 'Eelmouth', 'Saltby', 'Long Strand'];
  for (let i = 0; i < 400; i++) {
    const no = `F${pad(i + 1, 5)}`;
    rows.push([
      no,
      i % 29 === 7 ? pick(otherScripts) : fullName(),
      `${between(1, 140)} ${pick(['Lighthouse', 'Harbour', 'Glass', 'Vault', 'Kelp', 'Heron'])} ${pick(['Lane', 'Row', 'Street', 'Walk'])}`,
      pick(towns),
      pad(between(100, 9900), 5),
      String(between(1999, 2026)),
      i === 88 ? '' : `https://friends.marrambay.example/hello/${no.toLowerCase()}-${token(6)}`,
      // one mailbox is gone, one full at first, and one is shared
      i === 5
        ? 'gone.away6@post.example'
        : i === 9
          ? 'full.box10@post.example'
          : `friend${i === 41 ? 40 : i}@post.example`,
    ]);
  }
  return rows;
}

function loans(): Row[] {
  const rows: Row[] = [['Loan', 'Borrower', 'Seeds', 'Packets', 'Due back', 'File']];
  for (let i = 0; i < 12; i++) {
    const no = `LN-2026-${pad(i + 1, 3)}`;
    rows.push([
      no,
      `${pick(['Eelmouth', 'Saltby', 'Strandwick', 'Long Strand'])} ${pick(['School', 'Allotments', 'Growers', 'Museum'])}`,
      pick(['Sea kale', 'Thrift', 'Sea beet', 'Marram']),
      between(2, 30),
      `2027-${pad(between(1, 12), 2)}-15`,
      `${no.toLowerCase()}.pdf`,
    ]);
  }
  return rows;
}

function workshops(): Row[] {
  return [
    ['Workshop', 'Title', 'Leader', 'When', 'Room', 'Places', 'Check-in page'],
    [
      'WS-01',
      'Saving seed from coastal plants',
      'Perpetua Quill',
      '2026-11-28 10:00',
      'Seed vault',
      24,
      'https://checkin.marrambay.example/ws-01',
    ],
    [
      'WS-02',
      'Grafting for beginners',
      'Anselm Dray',
      '2026-11-28 14:00',
      'Potting shed',
      12,
      'https://checkin.marrambay.example/ws-02',
    ],
    [
      'WS-03',
      'Drawing grasses',
      'Keiko Marsh 桂子',
      '2026-11-29 10:00',
      'Dune House, upstairs',
      18,
      'https://checkin.marrambay.example/ws-03',
    ],
    [
      'WS-04',
      'Reading a salt marsh',
      'Σοφία Καρρά',
      '2026-11-29 14:00',
      'Meet at the gate',
      30,
      'https://checkin.marrambay.example/ws-04',
    ],
  ];
}

const utf8 = (text: string): Buffer => Buffer.from(text, 'utf8');
save('volunteers.xlsx', 'Volunteers', volunteers(), 'xlsx');
saveText('equipment.csv', equipment(), ';', (text) => Buffer.from(text, 'latin1'));
save('seed-packets.xlsx', 'Packets', packets(), 'xlsx');
saveText('accessions.csv', accessions(), ',', (text) =>
  Buffer.concat([Buffer.from([0xef, 0xbb, 0xbf]), utf8(text)]),
);
save('friends.ods', 'Friends', friends(), 'ods');
save('seed-loans.xls', 'Loans', loans(), 'biff8');
saveText('workshops.tsv', workshops(), '\t', (text) => Buffer.from(`\ufeff${text}`, 'utf16le'));

import { strToU8, zipSync, zlibSync } from 'fflate';

/**
 * Files made to harm programs that open them: small to send, and large, slow or deep to work on.
 * Made when they are needed, none is stored.
 */
export interface HostileFile {
  name: string;
  bytes: Buffer;
}

const svg = (inside: string, size = 'width="100" height="100"') =>
  Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${size}>${inside}</svg>`,
  );

/** Each level holds the one below it ten times. */
const uses = (levels: number): string =>
  `<defs><g id="l0"><rect width="1" height="1"/></g>${Array.from({ length: levels }, (_, i) => `<g id="l${i + 1}">${'x'.repeat(10).replace(/x/g, `<use xlink:href="#l${i}"/>`)}</g>`).join('')}</defs><use xlink:href="#l${levels}"/>`;

const filters = (many: number): string =>
  `<filter id="f" x="0" y="0" width="100%" height="100%">${'<feGaussianBlur stdDeviation="60"/><feTurbulence numOctaves="9" baseFrequency="0.9"/><feMorphology radius="50" operator="dilate"/>'.repeat(many)}</filter><rect width="100%" height="100%" filter="url(#f)"/>`;

const path = (points: number): string =>
  `<path stroke="#000" stroke-width="3" stroke-dasharray="1 1" fill-rule="evenodd" d="M0 0${Array.from({ length: points }, (_, i) => `L${(i * 7919) % 997} ${(i * 104729) % 991}`).join('')}"/>`;

/** A PNG that claims the largest allowed size, in a few bytes. */
function widePng(side: number): Buffer {
  const chunk = (type: string, data: Uint8Array) => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), Buffer.from(data)]);
    const out = Buffer.alloc(body.length + 8);
    out.writeUInt32BE(data.length, 0);
    body.copy(out, 4);
    out.writeUInt32BE(crc(body), body.length + 4);
    return out;
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(side, 0);
  header.writeUInt32BE(side, 4);
  header.set([8, 6, 0, 0, 0], 8);
  const rows = zlibSync(new Uint8Array(4_000_000), { level: 9 });
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]),
    chunk('IHDR', header),
    chunk('IDAT', rows),
    chunk('IEND', new Uint8Array()),
  ]);
}

function crc(bytes: Uint8Array): number {
  let c = ~0;
  for (const byte of bytes) {
    c ^= byte;
    for (let k = 0; k < 8; k++) c = (c >>> 1) ^ (0xedb88320 & -(c & 1));
  }
  return ~c >>> 0;
}

export const hostilePictures = (): HostileFile[] => [
  { name: 'comments.svg', bytes: Buffer.from('<!---->'.repeat(20_000)) },
  { name: 'uses.svg', bytes: svg(uses(9)) },
  { name: 'filters.svg', bytes: svg(filters(300), 'width="4000" height="4000"') },
  { name: 'path.svg', bytes: svg(path(40_000), 'viewBox="0 0 1000 1000"') },
  {
    name: 'huge.svg',
    bytes: svg('<rect width="9" height="9"/>', 'width="4000000" height="4000000"'),
  },
  {
    name: 'entities.svg',
    bytes: Buffer.from(
      `<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa">${Array.from({ length: 9 }, (_, i) => `<!ENTITY ${String.fromCharCode(98 + i)} "${`&${String.fromCharCode(97 + i)};`.repeat(10)}">`).join('')}]><svg xmlns="http://www.w3.org/2000/svg"><text>&j;</text></svg>`,
    ),
  },
  {
    name: 'outside.svg',
    bytes: svg(
      '<image xlink:href="file:///etc/passwd" width="9" height="9"/><image xlink:href="http://127.0.0.1:1/" width="9" height="9"/>',
    ),
  },
  { name: 'wide.png', bytes: widePng(60_000) },
];

const sheetXml = (inside: string, dimension = 'A1:B2') =>
  `<?xml version="1.0"?><worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><dimension ref="${dimension}"/>${inside}</worksheet>`;

function workbook(sheet: string, more: Record<string, Uint8Array> = {}): Buffer {
  const types = 'http://schemas.openxmlformats.org/package/2006';
  const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  return Buffer.from(
    zipSync({
      '[Content_Types].xml': strToU8(
        `<?xml version="1.0"?><Types xmlns="${types}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/></Types>`,
      ),
      '_rels/.rels': strToU8(
        `<?xml version="1.0"?><Relationships xmlns="${types}/relationships"><Relationship Id="r1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
      ),
      'xl/workbook.xml': strToU8(
        `<?xml version="1.0"?><workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="${office}"><sheets><sheet name="S" sheetId="1" r:id="r1"/></sheets></workbook>`,
      ),
      'xl/_rels/workbook.xml.rels': strToU8(
        `<?xml version="1.0"?><Relationships xmlns="${types}/relationships"><Relationship Id="r1" Type="${office}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
      ),
      'xl/worksheets/sheet1.xml': strToU8(sheet),
      ...more,
    }),
  );
}

const two =
  '<sheetData><row r="1"><c r="A1" t="inlineStr"><is><t>No</t></is></c><c r="B1" t="inlineStr"><is><t>Name</t></is></c></row><row r="2"><c r="A2"><v>1</v></c><c r="B2" t="inlineStr"><is><t>Wren</t></is></c></row></sheetData>';

export const hostileSheets = (): HostileFile[] => [
  { name: 'claims-all.xlsx', bytes: workbook(sheetXml(two, 'A1:XFD1048576')) },
  {
    name: 'last-cell.xlsx',
    bytes: workbook(
      sheetXml(
        `${two.slice(0, -12)}<row r="1048576"><c r="XFD1048576"><v>1</v></c></row></sheetData>`,
      ),
    ),
  },
  {
    name: 'merged-all.xlsx',
    bytes: workbook(
      sheetXml(`${two}<mergeCells count="1"><mergeCell ref="A1:XFD1048576"/></mergeCells>`),
    ),
  },
  {
    name: 'zeros.xlsx',
    bytes: workbook(sheetXml(two), { 'xl/sharedStrings.xml': new Uint8Array(450 * 2 ** 20) }),
  },
  { name: 'columns.csv', bytes: Buffer.from(`No${','.repeat(90_000)}\n1\n`) },
  { name: 'one-quote.csv', bytes: Buffer.from(`No,Name\n1,"${'x,\n'.repeat(30_000)}`) },
  { name: 'quotes.csv', bytes: Buffer.from(`No,Name\n${'"'.repeat(99_000)}\n`) },
  { name: 'spaces.csv', bytes: Buffer.from(`No, "Name"\n1,${' '.repeat(98_000)}"x"\n`) },
];

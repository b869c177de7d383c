import { strToU8, zipSync } from 'fflate';

/** Writes small DOCX files by hand, for the demo and for tests (ECMA-376). */

const spaces = [
  'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"',
  'xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"',
  'xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing"',
  'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"',
  'xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture"',
  'xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"',
  'xmlns:wps="http://schemas.microsoft.com/office/word/2010/wordprocessingShape"',
  'xmlns:v="urn:schemas-microsoft-com:vml"',
].join(' ');
const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

interface Looks {
  bold?: boolean;
  /** Half points. */
  size?: number;
  /** `rrggbb`. */
  colour?: string;
}
export const run = (text: string, { bold, size, colour }: Looks = {}): string =>
  `<w:r><w:rPr>${bold ? '<w:b/>' : ''}${colour ? `<w:color w:val="${colour}"/>` : ''}${size ? `<w:sz w:val="${size}"/>` : ''}</w:rPr><w:t xml:space="preserve">${escaped(text)}</w:t></w:r>`;
export const paragraph = (...runs: string[]): string => `<w:p>${runs.join('')}</w:p>`;
export const spaced = (after: number, ...runs: string[]): string =>
  `<w:p><w:pPr><w:spacing w:after="${after}"/></w:pPr>${runs.join('')}</w:p>`;

const cell = (width: number, inside: string): string =>
  `<w:tc><w:tcPr><w:tcW w:w="${width}" w:type="dxa"/></w:tcPr>${inside}</w:tc>`;
export function table(widths: readonly number[], rows: readonly (readonly string[])[]): string {
  const border = (side: string) =>
    `<w:${side} w:val="single" w:sz="4" w:space="0" w:color="BBBBBB"/>`;
  return `<w:tbl><w:tblPr><w:tblW w:w="${widths.reduce((a, b) => a + b, 0)}" w:type="dxa"/><w:tblBorders>${['top', 'bottom', 'insideH'].map(border).join('')}</w:tblBorders></w:tblPr><w:tblGrid>${widths.map((w) => `<w:gridCol w:w="${w}"/>`).join('')}</w:tblGrid>${rows
    .map((row) => `<w:tr>${row.map((inside, c) => cell(widths[c]!, inside)).join('')}</w:tr>`)
    .join('')}</w:tbl>`;
}

const emu = (mm: number): number => Math.round(mm * 36_000);
const graphic = (rid: string, number: number, cx: number, cy: number): string =>
  `<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture"><pic:pic><pic:nvPicPr><pic:cNvPr id="${number}" name="Picture ${number}"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="${rid}"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill><pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${cx}" cy="${cy}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic>`;

/** A picture in the line of the text. */
export function inline(rid: string, number: number, widthMm: number, heightMm: number): string {
  const [cx, cy] = [emu(widthMm), emu(heightMm)];
  return `<w:r><w:drawing><wp:inline distT="0" distB="0" distL="0" distR="0"><wp:extent cx="${cx}" cy="${cy}"/><wp:docPr id="${number}" name="Picture ${number}" descr="Where the code comes"/>${graphic(rid, number, cx, cy)}</wp:inline></w:drawing></w:r>`;
}
/** A picture at the right of its paragraph, with the text next to it. */
export function anchored(rid: string, number: number, widthMm: number, heightMm: number): string {
  const [cx, cy] = [emu(widthMm), emu(heightMm)];
  return `<w:r><w:drawing><wp:anchor distT="0" distB="0" distL="114300" distR="0" simplePos="0" relativeHeight="2" behindDoc="0" locked="0" layoutInCell="1" allowOverlap="1"><wp:simplePos x="0" y="0"/><wp:positionH relativeFrom="margin"><wp:align>right</wp:align></wp:positionH><wp:positionV relativeFrom="paragraph"><wp:posOffset>0</wp:posOffset></wp:positionV><wp:extent cx="${cx}" cy="${cy}"/><wp:wrapSquare wrapText="bothSides"/><wp:docPr id="${number}" name="Picture ${number}" descr="Where the code comes"/>${graphic(rid, number, cx, cy)}</wp:anchor></w:drawing></w:r>`;
}
/** A text box, with the form that older programs know. */
export const textBox = (inside: string): string =>
  `<w:r><mc:AlternateContent><mc:Choice Requires="wps"><w:drawing><wp:inline distT="0" distB="0" distL="0" distR="0"><wp:extent cx="${emu(60)}" cy="${emu(14)}"/><wp:docPr id="77" name="Box"/><a:graphic><a:graphicData uri="http://schemas.microsoft.com/office/word/2010/wordprocessingShape"><wps:wsp><wps:cNvSpPr txBox="1"/><wps:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${emu(60)}" cy="${emu(14)}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></wps:spPr><wps:txbx><w:txbxContent>${inside}</w:txbxContent></wps:txbx><wps:bodyPr/></wps:wsp></a:graphicData></a:graphic></wp:inline></w:drawing></mc:Choice><mc:Fallback><w:pict><v:shape style="width:170pt;height:40pt"><v:textbox><w:txbxContent>${inside}</w:txbxContent></v:textbox></v:shape></w:pict></mc:Fallback></mc:AlternateContent></w:r>`;

export interface DocxParts {
  body: string;
  header?: string;
  footer?: string;
  /** Files under `word/media`; their relations are called `pic1`, `pic2` … in their order. */
  media?: Readonly<Record<string, Uint8Array>>;
  /** Anything else that a test wants in it. */
  more?: Readonly<Record<string, Uint8Array | string>>;
  /** Further relations of the document. */
  relations?: string;
  mainType?: string;
}

/** A DOCX of these parts; the same bytes each time. */
export function docx({
  body,
  header,
  footer,
  media = {},
  more = {},
  relations = '',
  mainType = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml',
}: DocxParts): Uint8Array {
  const base = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  const word = 'application/vnd.openxmlformats-officedocument.wordprocessingml';
  const rels = (inside: string) =>
    `${head}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${inside}</Relationships>`;
  const files: Record<string, string | Uint8Array> = {
    '[Content_Types].xml': `${head}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="png" ContentType="image/png"/><Override PartName="/word/document.xml" ContentType="${mainType}"/>${header ? `<Override PartName="/word/header1.xml" ContentType="${word}.header+xml"/>` : ''}${footer ? `<Override PartName="/word/footer1.xml" ContentType="${word}.footer+xml"/>` : ''}<Override PartName="/word/styles.xml" ContentType="${word}.styles+xml"/></Types>`,
    '_rels/.rels': rels(
      `<Relationship Id="r1" Type="${base}/officeDocument" Target="word/document.xml"/>`,
    ),
    'word/document.xml': `${head}<w:document ${spaces}><w:body>${body}<w:sectPr>${header ? '<w:headerReference w:type="default" r:id="head"/>' : ''}${footer ? '<w:footerReference w:type="default" r:id="foot"/>' : ''}<w:pgSz w:w="11906" w:h="16838"/><w:pgMar w:top="1304" w:right="1247" w:bottom="1247" w:left="1247" w:header="680" w:footer="680" w:gutter="0"/></w:sectPr></w:body></w:document>`,
    'word/_rels/document.xml.rels': rels(
      `${header ? `<Relationship Id="head" Type="${base}/header" Target="header1.xml"/>` : ''}${footer ? `<Relationship Id="foot" Type="${base}/footer" Target="footer1.xml"/>` : ''}<Relationship Id="style" Type="${base}/styles" Target="styles.xml"/>${Object.keys(
        media,
      )
        .map(
          (name, i) =>
            `<Relationship Id="pic${i + 1}" Type="${base}/image" Target="media/${name}"/>`,
        )
        .join('')}${relations}`,
    ),
    'word/styles.xml': `${head}<w:styles ${spaces}><w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="Liberation Sans" w:hAnsi="Liberation Sans" w:cs="Liberation Sans"/><w:sz w:val="21"/></w:rPr></w:rPrDefault><w:pPrDefault><w:pPr><w:spacing w:after="140" w:line="276" w:lineRule="auto"/></w:pPr></w:pPrDefault></w:docDefaults></w:styles>`,
    ...(header ? { 'word/header1.xml': `${head}<w:hdr ${spaces}>${header}</w:hdr>` } : {}),
    ...(footer ? { 'word/footer1.xml': `${head}<w:ftr ${spaces}>${footer}</w:ftr>` } : {}),
    ...Object.fromEntries(
      Object.entries(media).map(([name, bytes]) => [`word/media/${name}`, bytes]),
    ),
    ...more,
  };
  return zipSync(
    Object.fromEntries(
      Object.entries(files).map(([name, content]) => [
        name,
        typeof content === 'string' ? strToU8(content) : content,
      ]),
    ),
    { mtime: new Date(2026, 10, 1) },
  );
}

/**
 * Row 13 of the table that computers know: numbers in circles and the like, which JIS X 0208 has
 * not; readers know nothing there.
 */
const ofVendors = { from: 0x8740, to: 0x879c };
/**
 * Signs that vendors and JIS X 0208 take for different characters: readers give back another than
 * was meant.
 */
const otherwise = '＼～∥－￠￡￢';

/**
 * Reverse table of the double-byte part of Shift-JIS that kanji mode covers (ISO/IEC 18004, kanji
 * mode).
 */
let table: Map<string, number> | undefined;

/** The 13-bit value of a character in kanji mode, or undefined if it has none. */
export function kanjiValue(character: string): number | undefined {
  table ??= buildTable();
  return table.get(character);
}

function buildTable(): Map<string, number> {
  const decoder = new TextDecoder('shift_jis', { fatal: true });
  const built = new Map<string, number>();
  const add = (from: number, to: number, base: number) => {
    for (let code = from; code <= to; code++) {
      if (code >= ofVendors.from && code <= ofVendors.to) continue;
      try {
        const character = decoder.decode(Uint8Array.of(code >> 8, code & 0xff));
        const offset = code - base;
        if (character.length === 1 && !otherwise.includes(character) && !built.has(character))
          built.set(character, (offset >> 8) * 0xc0 + (offset & 0xff));
      } catch {
        // not every pair of bytes is a character
      }
    }
  };
  add(0x8140, 0x9ffc, 0x8140);
  add(0xe040, 0xebbf, 0xc140);
  return built;
}

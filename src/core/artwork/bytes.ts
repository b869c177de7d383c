/**
 * Text in ASCII and whole numbers, written straight into bytes: page contents are megabytes, and
 * strings of them cost several times as much.
 */
export class AsciiWriter {
  private bytes = new Uint8Array(1 << 16);
  private length = 0;

  /** ASCII only. */
  text(text: string): void {
    this.need(text.length);
    for (let i = 0; i < text.length; i++) this.bytes[this.length++] = text.charCodeAt(i);
  }

  /** A rectangle of whole numbers from 0 up, as PDF writes it. */
  rectangle(x: number, y: number, width: number, height: number): void {
    if (Math.max(x, y, width, height) >= 10_000) {
      this.text(`${x} ${y} ${width} ${height} re\n`);
      return;
    }
    this.need(23);
    let at = this.put(x, this.length);
    at = this.put(y, at);
    at = this.put(width, at);
    at = this.put(height, at);
    this.bytes[at++] = 0x72;
    this.bytes[at++] = 0x65;
    this.bytes[at++] = newLine;
    this.length = at;
  }

  /** Writes a number below 10,000 and a space; returns the next position. */
  private put(value: number, at: number): number {
    const { bytes } = this;
    if (value >= 1000) bytes[at++] = zero + ((value / 1000) | 0);
    if (value >= 100) bytes[at++] = zero + (((value / 100) | 0) % 10);
    if (value >= 10) bytes[at++] = zero + (((value / 10) | 0) % 10);
    bytes[at++] = zero + (value % 10);
    bytes[at++] = space;
    return at;
  }

  /** A copy of what was written so far. */
  done(): Uint8Array {
    return this.bytes.slice(0, this.length);
  }

  private need(more: number): void {
    if (this.length + more <= this.bytes.length) return;
    const larger = new Uint8Array(Math.max(this.bytes.length * 2, this.length + more));
    larger.set(this.bytes.subarray(0, this.length));
    this.bytes = larger;
  }
}

const zero = 0x30;
const space = 0x20;
const newLine = 0x0a;

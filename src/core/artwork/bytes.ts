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

  /** A whole number from 0 up, and a space after it. */
  number(value: number): void {
    this.need(17);
    if (value >= 1000) {
      this.text(`${value} `);
      return;
    }
    if (value >= 100) this.bytes[this.length++] = zero + Math.floor(value / 100);
    if (value >= 10) this.bytes[this.length++] = zero + (Math.floor(value / 10) % 10);
    this.bytes[this.length++] = zero + (value % 10);
    this.bytes[this.length++] = space;
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

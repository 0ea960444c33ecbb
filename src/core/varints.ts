/** Writes whole numbers from 0 on as variable-length bytes, seven bits each, the lowest first (LEB128: DWARF 5, section 7.6), and bytes as they are. */
export class VarintWriter {
  private bytes: Uint8Array
  private length = 0

  constructor(capacity = 64) {
    this.bytes = new Uint8Array(capacity)
  }

  number(value: number): void {
    this.makeRoom(10)
    let rest = value
    while (rest >= 128) {
      this.bytes[this.length++] = (rest % 128) + 128
      rest = Math.floor(rest / 128)
    }
    this.bytes[this.length++] = rest
  }

  raw(bytes: Uint8Array): void {
    this.makeRoom(bytes.length)
    this.bytes.set(bytes, this.length)
    this.length += bytes.length
  }

  done(): Uint8Array {
    return this.bytes.subarray(0, this.length)
  }

  private makeRoom(more: number): void {
    if (this.length + more <= this.bytes.length) return
    const larger = new Uint8Array(Math.max(this.bytes.length * 2, this.length + more))
    larger.set(this.bytes)
    this.bytes = larger
  }
}

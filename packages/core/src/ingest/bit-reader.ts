/** Reads bits, most significant first, with the Exp-Golomb codes of ITU-T H.264, 9.1. */
export class BitReader {
  #at = 0;
  constructor(private readonly bytes: Uint8Array) {}

  /** @throws RangeError past the end. */
  read(count: number): number {
    let value = 0;
    for (let taken = 0; taken < count; taken += 1) {
      const byte = this.bytes[this.#at >> 3];
      if (byte === undefined) throw new RangeError('No bits left');
      value = value * 2 + ((byte >> (7 - (this.#at & 7))) & 1);
      this.#at += 1;
    }
    return value;
  }

  skip(count: number): void {
    this.read(count);
  }

  unsignedGolomb(): number {
    let zeros = 0;
    while (this.read(1) === 0) zeros += 1;
    return 2 ** zeros - 1 + this.read(zeros);
  }

  signedGolomb(): number {
    const code = this.unsignedGolomb();
    return code % 2 === 0 ? -code / 2 : (code + 1) / 2;
  }
}

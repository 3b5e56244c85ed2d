import { concatBytes } from '../bytes.js';
import { type FlvTag, readFlvTag } from './flv-tags.js';

/** The file's header, and the first pointer back. */
const HEADER_BYTES = 9 + 4;

/** Takes an FLV file apart as it comes, in pieces of any size. */
export class FlvStream {
  #rest: Uint8Array = new Uint8Array();
  /** Where the next tag begins in what is left; beyond it, while a pointer back is still to come. */
  #at = HEADER_BYTES;

  /** @returns the tags that are whole now. */
  push(bytes: Uint8Array): FlvTag[] {
    this.#rest = concatBytes([this.#rest, bytes]);
    const tags: FlvTag[] = [];
    for (let read = readFlvTag(this.#rest, this.#at); read; read = readFlvTag(this.#rest, this.#at)) {
      if (read.tag) tags.push(read.tag);
      this.#at = read.nextAt;
    }
    const done = Math.min(this.#at, this.#rest.byteLength);
    this.#rest = this.#rest.slice(done);
    this.#at -= done;
    return tags;
  }
}

import { Injectable } from '@nestjs/common';

/** Civil time for everything: the system's clock plus an offset that only tests may set. */
@Injectable()
export class Clock {
  #offsetMs = 0;

  get offsetMs(): number {
    return this.#offsetMs;
  }

  setOffset(offsetMs: number): void {
    this.#offsetMs = offsetMs;
  }

  nowMs(): number {
    return Date.now() + this.#offsetMs;
  }
}

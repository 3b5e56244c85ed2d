/** Somebody who has an account there. */
export interface Person {
  readonly id: string;
  readonly name: string;
}

/** Where a person may post: their own wall, a page, a group, a channel. */
export interface Outlet {
  readonly id: string;
  readonly kind: 'wall' | 'page' | 'group' | 'channel';
  name: string;
  readonly personId: string;
  /** Groups have to let an application in first. */
  hasAllowed: boolean;
}

/** More pages than anybody wants to scroll through, as a fault that can be tried. */
const MANY = 3000;

/** The people of a platform, and what is theirs. */
export class Directory {
  readonly #outlets: Outlet[];

  constructor(
    readonly people: readonly Person[],
    outlets: readonly Outlet[],
  ) {
    this.#outlets = [...outlets];
  }

  get outlets(): readonly Outlet[] {
    return this.#outlets;
  }

  outletsOf(personId: string): readonly Outlet[] {
    return this.#outlets.filter((outlet) => outlet.personId === personId);
  }

  outlet(id: string): Outlet | null {
    return this.#outlets.find((outlet) => outlet.id === id) ?? null;
  }

  rename(id: string, name: string): void {
    const outlet = this.outlet(id);
    if (outlet) outlet.name = name;
  }

  /** The group's keeper lets the application in, or puts it out. */
  allow(id: string, hasAllowed: boolean): void {
    const outlet = this.outlet(id);
    if (outlet) outlet.hasAllowed = hasAllowed;
  }

  /** Gives somebody thousands of pages. */
  addMany(personId: string): void {
    for (let number = 1; number <= MANY; number += 1) {
      const id = `parish-${number}`;
      if (this.outlet(id)) continue;
      this.#outlets.push({ id, kind: 'page', name: `Parish page ${number}`, personId, hasAllowed: true });
    }
  }
}

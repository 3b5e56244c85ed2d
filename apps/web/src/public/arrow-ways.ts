/** What stands where on a page, in pixels. */
export interface Place {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

const WAYS = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
} as const;
export type ArrowKey = keyof typeof WAYS;

/** What it costs to leave the row or column that one is in, and then for each pixel aside, in pixels along the way. */
const LEAVING = 200;
const ASIDE = 3;

/**
 * Which of several places comes next in a direction: the nearest along it, with a dear price for what lies aside (as CSS
 * Spatial Navigation Level 1, 8, has it in more words).
 * @returns its index; -1 where nothing lies that way
 */
export function nextPlace(from: Place, places: readonly Place[], key: ArrowKey): number {
  const { x, y } = WAYS[key];
  let best = -1;
  let bestCost = Infinity;
  places.forEach((place, index) => {
    const along =
      x === 0
        ? gap(from.top, from.bottom, place.top, place.bottom, y)
        : gap(from.left, from.right, place.left, place.right, x);
    if (along === null) return;
    const aside =
      x === 0
        ? apart(from.left, from.right, place.left, place.right)
        : apart(from.top, from.bottom, place.top, place.bottom);
    const cost = along + (aside > 0 ? LEAVING + ASIDE * aside : 0);
    if (cost < bestCost) [best, bestCost] = [index, cost];
  });
  return best;
}

/** How far on something lies in a direction; `null` where it does not lie that way. */
function gap(from: number, to: number, otherFrom: number, otherTo: number, way: number): number | null {
  const along = way > 0 ? otherFrom - to : from - otherTo;
  // What overlaps a little, as outlined things do, still lies beside.
  return along < -(to - from) / 2 ? null : Math.max(0, along);
}

/** How far two stretches are apart; 0 where they overlap. */
const apart = (from: number, to: number, otherFrom: number, otherTo: number): number =>
  Math.max(0, otherFrom - to, from - otherTo);

const REACHABLE = 'a[href], button, input, select, textarea, [tabindex="0"]';

/** What an arrow does of its own accord on something: goes along a slider, through a list, or in words. */
function keepsArrow(element: Element, key: ArrowKey): boolean {
  const isSideways = key === 'ArrowLeft' || key === 'ArrowRight';
  if (element instanceof HTMLTextAreaElement) return true;
  if (element instanceof HTMLSelectElement) return !isSideways;
  if (!(element instanceof HTMLInputElement)) return false;
  return element.type !== 'checkbox' && isSideways;
}

/** Televisions have arrow keys and nothing to point with: there they lead from one thing to the next. */
export function walkByArrows(): void {
  if (!matchMedia('(any-pointer: none)').matches) return;
  // Before the player, for which arrows mean something else.
  document.addEventListener('keydown', walk, { capture: true });
}

function walk(event: KeyboardEvent): void {
  const { key } = event;
  if (!(key in WAYS) || event.ctrlKey || event.altKey || event.metaKey) return;
  const from = document.activeElement;
  const isSomewhere = from !== null && from !== document.body;
  if (isSomewhere && keepsArrow(from, key as ArrowKey)) return;
  const others = [...document.querySelectorAll<HTMLElement>(REACHABLE)].filter(
    (element) =>
      element !== from &&
      element.checkVisibility({ visibilityProperty: true }) &&
      !element.matches(':disabled'),
  );
  const places = others.map((element) => element.getBoundingClientRect());
  const index = isSomewhere ? nextPlace(from.getBoundingClientRect(), places, key as ArrowKey) : 0;
  const next = others[index];
  if (!next) return; // the page scrolls
  event.preventDefault();
  event.stopPropagation();
  next.focus();
  next.scrollIntoView({ block: 'nearest' });
}

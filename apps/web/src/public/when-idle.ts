const LATEST_MS = 1500;
/** Time to paint what has come. */
const PAINT_MS = 100;

/**
 * Does something once the pictures that have begun to come stand there and the page has nothing more urgent to do, at the
 * latest after a moment. Returns its undo.
 */
export function whenIdle(work: () => void): () => void {
  let isOver = false;
  const pictures = [...document.images].filter(({ complete }) => !complete).map(settled);
  void Promise.race([Promise.all(pictures), pause(LATEST_MS)])
    .then(() => pause(PAINT_MS))
    .then(() => !isOver && idle(run));
  const run = (): void => {
    if (!isOver) work();
  };
  return () => {
    isOver = true;
  };
}

const settled = (picture: HTMLImageElement): Promise<unknown> =>
  new Promise((resolve) => {
    for (const name of ['load', 'error']) picture.addEventListener(name, resolve, { once: true });
  });

const pause = (ms: number): Promise<unknown> => new Promise((resolve) => setTimeout(resolve, ms));

function idle(work: () => void): void {
  if ('requestIdleCallback' in window) requestIdleCallback(work, { timeout: LATEST_MS });
  else setTimeout(work, LATEST_MS / 5);
}

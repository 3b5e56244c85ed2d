/** How much room is left to record: plenty, low (tidy up soon), or full (recording has to stop, live goes on). */
export type DiskState = 'plenty' | 'low' | 'full';

/** Below so many times the reserve people are warned, and the oldest things in the bin are let go. */
const LOW_AT_RESERVES = 4;
/** Once stopped, recording begins again only with this much room: not at every byte that comes and goes. */
const RESUME_AT_RESERVES = 1.25;

export interface DiskFigures {
  readonly freeBytes: number;
  /** What always stays free, so that the machine itself goes on. */
  readonly reserveBytes: number;
}

/** @param before - the last state, so that it does not flutter at an edge. */
export function diskState({ freeBytes, reserveBytes }: DiskFigures, before: DiskState): DiskState {
  const fullBelowBytes = before === 'full' ? reserveBytes * RESUME_AT_RESERVES : reserveBytes;
  if (freeBytes < fullBelowBytes) return 'full';
  return freeBytes < reserveBytes * LOW_AT_RESERVES ? 'low' : 'plenty';
}

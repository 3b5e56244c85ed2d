/**
 * How far `ffmpeg -progress` has come, out of one of its lines.
 * @returns a whole per cent from 0 to 99, or `null` for a line that says nothing of it; done is what its end says.
 */
export function progressPercent(line: string, durationMs: number): number | null {
  const [, doneUs] = /^out_time_us=(\d+)\s*$/.exec(line) ?? [];
  if (doneUs === undefined || durationMs <= 0) return null;
  return Math.min(99, Math.floor(Number(doneUs) / 10 / durationMs));
}

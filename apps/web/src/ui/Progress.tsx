/** How far long work is. */
export const Progress = ({ percent, what }: { percent: number; what: string }) => (
  <div
    role="progressbar"
    aria-label={what}
    aria-valuenow={percent}
    aria-valuemin={0}
    aria-valuemax={100}
    className="h-2.5 overflow-hidden rounded-sm border border-edge bg-surface"
  >
    <div className="h-full bg-pine" style={{ width: `${percent}%` }} />
  </div>
);

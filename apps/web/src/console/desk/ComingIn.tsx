import type { SourceNow, SourceView } from '@heliphon/contracts/sources';
import { ReportTable } from '../sources/ReportTable.js';
import { SourcePicture } from '../sources/SourcePicture.js';

/** What comes in: the newest thumbnail, and the report in figures. */
export function ComingIn({ source, now }: { source: SourceView | null; now: SourceNow | null }) {
  return (
    <section aria-label="Coming in" className="pb-2.5">
      <h2 className="pt-1.5 pb-1.5 text-[17px]">
        Coming in
        {source && <span className="font-sans text-sm font-normal text-ink-soft"> {source.name}</span>}
      </h2>
      {source ? (
        <div className="flex gap-3">
          <SourcePicture now={now} name={source.name} small />
          <ReportTable now={now} />
        </div>
      ) : (
        <p className="text-ink-soft">No source is chosen.</p>
      )}
    </section>
  );
}

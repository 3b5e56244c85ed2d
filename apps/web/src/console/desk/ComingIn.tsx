import type { SourceNow, SourceView } from '@heliphon/contracts/sources';
import { ReportTable } from '../sources/ReportTable.js';
import { SourcePicture } from '../sources/SourcePicture.js';
import { DESK_TEXT } from '../../words/console/desk.js';

/** What comes in: the newest thumbnail, and the report in figures. */
export function ComingIn({ source, now }: { source: SourceView | null; now: SourceNow | null }) {
  return (
    <section aria-label={DESK_TEXT.comingIn} className="relative pb-2.5">
      <h2 className="pt-1.5 pr-28 pb-1.5 text-[17px]">
        {DESK_TEXT.comingIn}
        {source && <span className="font-sans text-sm font-normal text-ink-soft"> {source.name}</span>}
      </h2>
      {source ? (
        <>
          {/* Beside the heading and the one short row, so that all figures have the whole width. */}
          <div className="absolute top-0 right-0">
            <SourcePicture now={now} name={source.name} size="tiny" />
          </div>
          <div className={now?.report ? '' : 'pr-28'}>
            <ReportTable now={now} />
          </div>
        </>
      ) : (
        <p className="text-ink-soft">{DESK_TEXT.noSourceIsChosen}</p>
      )}
    </section>
  );
}

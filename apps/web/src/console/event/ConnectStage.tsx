import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import type { SourceNow, SourceView } from '@heliphon/contracts/sources';
import { useCan } from '../../data/session.js';
import { useSources } from '../../data/sources.js';
import { useSourceNow } from '../../data/live.js';
import { buttonClass } from '../../ui/Button.js';
import { Empty } from '../../ui/states.js';
import { AdvicePanel } from '../sources/AdvicePanel.js';
import { Compared } from '../sources/Compared.js';
import { GuestLinks } from '../sources/GuestLinks.js';
import { KeySheet } from '../sources/KeySheet.js';
import { ReportTable } from '../sources/ReportTable.js';
import { SourcePicture } from '../sources/SourcePicture.js';
import { shownWords } from '../../words/sources.js';
import { Sentence } from '../../ui/Sentence.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** What has to be typed into the encoder, and what really arrives. */
export function ConnectStage({ event }: { event: EventView }) {
  const { data: sources } = useSources();
  const canSeeKeys = useCan('keys.read');
  const canConnect = useCan('sources.connect');
  const source = sources?.items.find((candidate) => candidate.id === event.sourceId);
  const now = useSourceNow(event.sourceId);
  if (!source) {
    return (
      <Empty
        action={
          <Link className={buttonClass('main')} to={`/events/${event.id}/plan`}>
            {EVENT_TEXT.chooseASource}
          </Link>
        }
      >
        {EVENT_TEXT.thisEventHasNoSource}
      </Empty>
    );
  }
  if (source.kind !== 'device') return <Shown source={source} now={now} />;
  return (
    <div className="grid gap-6 md:grid-cols-2">
      <div className="grid content-start gap-4">
        <h2 className="text-[19px]">{EVENT_TEXT.typeThisIntoTheEncoder(source.name)}</h2>
        {canSeeKeys ? (
          <KeySheet source={source} />
        ) : (
          <p className="text-ink-soft">{EVENT_TEXT.yourRoleDoesNotLet}</p>
        )}
        {canConnect && (
          <>
            <p>
              <Sentence
                words={EVENT_TEXT.orSendFromHere}
                link={
                  <Link className="underline" to={`/sources/${source.id}/camera`}>
                    {EVENT_TEXT.sendFromThisDevice}
                  </Link>
                }
              />
            </p>
            <GuestLinks source={source} />
          </>
        )}
      </div>
      <div className="grid content-start gap-3">
        <h2 className="text-[19px]">{EVENT_TEXT.whatIsComingIn}</h2>
        <SourcePicture now={now} name={source.name} />
        <ReportTable now={now} />
        <Compared source={source} now={now} />
        <AdvicePanel source={source} />
      </div>
    </div>
  );
}

/** Nothing is to be typed anywhere: the picture is the house's own. */
function Shown({ source, now }: { source: SourceView; now: SourceNow | null }) {
  return (
    <div className="grid max-w-xl content-start gap-3">
      <h2 className="text-[19px]">{source.name}</h2>
      <p>{EVENT_TEXT.nothingToConnect(shownWords(source))}</p>
      {source.kind === 'programme' && (
        <>
          <SourcePicture now={now} name={source.name} />
          <ReportTable now={now} />
        </>
      )}
    </div>
  );
}

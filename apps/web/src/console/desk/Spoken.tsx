import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import { skipFilm } from '../../data/events.js';
import { useCan } from '../../data/session.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import type { Remedy, SpokenLine } from './spoken-line.js';

const REMEDIES: Readonly<Record<Remedy, { words: string; to: (event: EventView) => string }>> = {
  places: { words: DESK_TEXT.checkThePlace, to: () => '/places' },
  connect: { words: DESK_TEXT.howToConnect, to: ({ id }: EventView) => `/events/${id}/connect` },
  archive: { words: DESK_TEXT.makeRoomInTheArchive, to: () => '/archive' },
};

/** The line under the picture, with the remedy's button in it. */
export function Spoken({ line, event, isFilm }: { line: SpokenLine; event: EventView; isFilm: boolean }) {
  const canMove = useCan('events.move');
  const action = useAction();
  const remedy = line.remedy && REMEDIES[line.remedy];
  return (
    <div
      className="flex min-h-[58px] min-w-0 flex-1 basis-72 items-center gap-3 text-[17px] max-sm:flex-wrap leading-snug"
      role="status"
    >
      <p className="flex-1 max-sm:basis-full">
        {line.seen}
        {line.trouble && <strong className="block font-semibold text-rust">{line.trouble}</strong>}
        {line.help && <span className="block text-[15px]">{line.help}</span>}
      </p>
      <Fault error={action.error} isSmall />
      {isFilm && canMove && (
        <Button large disabled={action.isBusy} onClick={() => void action.run(() => skipFilm(event.id))}>
          {DESK_TEXT.cutToTheLivePicture}
        </Button>
      )}
      {remedy && (
        <Link to={remedy.to(event)} className={buttonClass('mend', true)}>
          {remedy.words}
        </Link>
      )}
    </div>
  );
}

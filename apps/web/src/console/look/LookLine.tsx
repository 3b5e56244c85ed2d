import { Link } from 'react-router';
import { LOOK_PARTS } from '@heliphon/core/appearance/look';
import type { Level } from '@heliphon/core/inherited';
import { lookPath, useLook } from '../../data/looks.js';
import { buttonClass } from '../../ui/Button.js';
import { LOOK_TEXT } from '../../words/console/look.js';

interface LookLineProps {
  readonly level: Level;
  readonly id: string;
}

/** How the page of a series or an event looks, in a line, and the way to where that is changed. */
export function LookLine({ level, id }: LookLineProps) {
  const { data } = useLook(lookPath(level, id));
  const said = LOOK_PARTS.filter((part) => data?.own[part] !== undefined).length;
  return (
    <section aria-label={LOOK_TEXT.howItsPageLooks} className="flex flex-wrap items-center gap-x-5 gap-y-2">
      <div>
        <h2 className="font-sans text-[15px] font-semibold">{LOOK_TEXT.howItsPageLooks}</h2>
        <p className="text-ink-soft">{LOOK_TEXT.saidHere(said)}</p>
      </div>
      <Link to={`/look/${level}/${id}`} className={buttonClass()}>
        {LOOK_TEXT.changeTheLook}
      </Link>
    </section>
  );
}

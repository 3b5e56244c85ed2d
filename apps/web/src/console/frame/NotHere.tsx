import { Link } from 'react-router';
import { buttonClass } from '../../ui/Button.js';
import { Empty } from '../../ui/states.js';
import { FRAME_TEXT } from '../../words/console/frame.js';

export function NotHere() {
  return (
    <div className="px-5 py-8">
      <h1 className="mb-4 text-2xl">{FRAME_TEXT.thereIsNothingAtThis}</h1>
      <Empty
        action={
          <Link to="/" className={buttonClass('main')}>
            {FRAME_TEXT.goToTheWeek}
          </Link>
        }
      >
        {FRAME_TEXT.itMayHaveBeenDeleted}
      </Empty>
    </div>
  );
}

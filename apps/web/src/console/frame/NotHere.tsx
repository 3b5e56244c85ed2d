import { Link } from 'react-router';
import { buttonClass } from '../../ui/Button.js';
import { Empty } from '../../ui/states.js';

export function NotHere() {
  return (
    <div className="px-5 py-8">
      <h1 className="mb-4 text-2xl">There is nothing at this address</h1>
      <Empty
        action={
          <Link to="/" className={buttonClass('main')}>
            Go to the week
          </Link>
        }
      >
        It may have been deleted, or the address is not complete.
      </Empty>
    </div>
  );
}

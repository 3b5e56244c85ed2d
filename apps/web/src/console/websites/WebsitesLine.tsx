import { Link } from 'react-router';
import type { ShownLevel } from '@heliphon/contracts/websites';
import { buttonClass } from '../../ui/Button.js';
import { WEBSITES_TEXT } from '../../words/console/websites.js';

/** The way to where something is put on a website. */
export const WebsitesLine = ({ level, id }: { level: ShownLevel; id: string }) => (
  <Link to={`/websites/${level}/${id}`} className={`justify-self-start ${buttonClass()}`}>
    {WEBSITES_TEXT.onYourWebsite}
  </Link>
);

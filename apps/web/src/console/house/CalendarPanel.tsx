import { CalendarAddress } from './CalendarAddress.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

/** The house's events in one's own calendar program, by a private address. */
export const CalendarPanel = () => (
  <section aria-label={HOUSE_TEXT.myCalendar}>
    <h2 className="mb-1 text-[19px]">{HOUSE_TEXT.myCalendar}</h2>
    <p className="mb-3 text-ink-soft">{HOUSE_TEXT.theCalendarOnYourPhone}</p>
    <CalendarAddress />
  </section>
);

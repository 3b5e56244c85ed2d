import { CalendarAddress } from './CalendarAddress.js';

/** The house's events in one's own calendar program, by a private address. */
export const CalendarPanel = () => (
  <section aria-label="My calendar">
    <h2 className="mb-1 text-[19px]">My calendar</h2>
    <p className="mb-3 text-ink-soft">
      Your telephone’s or computer’s calendar can follow what this house plans. Add a calendar “by address”
      there; it asks again by itself. Whoever has the address sees the plan, so keep it to yourself. One
      channel alone has its own address, under Channels.
    </p>
    <CalendarAddress />
  </section>
);

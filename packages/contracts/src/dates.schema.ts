import Joi from 'joi';

const MONTH_AND_DAY = '(0[1-9]|1[0-2])-(0[1-9]|[12]\\d|3[01])';

/** `2026-03-07`; there is no year 0. */
export const daySchema = Joi.string().pattern(new RegExp(`^(?!0000)\\d{4}-${MONTH_AND_DAY}$`), 'a date');
/** `2026-03-07T10:30`, in the zone that stands beside it; in years that databases, calendars and zones all know. */
export const localTimeSchema = Joi.string().pattern(
  new RegExp(`^(19|2\\d)\\d{2}-${MONTH_AND_DAY}T([01]\\d|2[0-3]):[0-5]\\d$`),
  'a date and time',
);
/** An instant in UTC ms. */
export const instantSchema = Joi.number()
  .integer()
  .min(Date.UTC(1900, 0, 1))
  .max(Date.UTC(2999, 11, 31));

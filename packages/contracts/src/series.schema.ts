import Joi from 'joi';
import type { DutyTurns } from '@heliphon/core/duties/duties';
import { RULE_LIMITS } from '@heliphon/core/schedule/recurrence';
import { EVENT_LIMITS } from './events.js';
import { daySchema } from './dates.schema.js';
import { dutySchema, eventFields, slugSchema } from './events.schema.js';
import type { EditSeries, PlanSeries, PreviewSeries, SpreadChange } from './series.js';

const MOST_IN_TURN = 30;
const id = Joi.string().uuid();
const rule = Joi.string().trim().min(1).max(RULE_LIMITS.textLength);
const timeOfDay = Joi.string().pattern(/^([01]\d|2[0-3]):[0-5]\d$/, 'a time of day');
const lengthMinutes = Joi.number()
  .integer()
  .min(1)
  .max(EVENT_LIMITS.longestHours * 60);
const when = {
  rule: rule.required(),
  firstDate: daySchema.required(),
  timeOfDay: timeOfDay.required(),
  lengthMinutes: lengthMinutes.required(),
};

export const planSeriesSchema = Joi.object<PlanSeries, true>({
  ...when,
  title: eventFields.title.required(),
  sourceId: id.allow(null).default(null),
  likeEventId: id.allow(null).default(null),
  channelId: id.allow(null).default(null),
});

export const editSeriesSchema = Joi.object<EditSeries>({
  rule,
  firstDate: daySchema,
  timeOfDay,
  lengthMinutes,
  ...eventFields,
  duties: Joi.array()
    .items(
      Joi.object<DutyTurns>({
        duty: dutySchema.required(),
        personIds: Joi.array().items(id).unique().max(MOST_IN_TURN).required(),
      }),
    )
    .unique('duty'),
  slug: slugSchema,
}).min(1);

export const previewSeriesSchema = Joi.object<PreviewSeries, true>({
  ...when,
  seriesId: id.allow(null).default(null),
});

export const spreadChangeSchema = Joi.object<SpreadChange, true>({
  to: Joi.string().valid('later', 'all').required(),
});

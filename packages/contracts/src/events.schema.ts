import Joi from 'joi';
import { DUTIES, type OnDuty } from '@heliphon/core/duties/duties';
import { EVENT_STATES } from '@heliphon/core/schedule/event-life';
import {
  type CancelEvent,
  type ChooseEnd,
  EVENT_LIMITS,
  type EditEvent,
  type EventFilter,
  type MoveEvent,
  type PausePlace,
  type PlanEvent,
} from './events.js';

const title = Joi.string().trim().min(1).max(EVENT_LIMITS.titleLength);
const local = Joi.string().pattern(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, 'a date and time');
const id = Joi.string().uuid();
const minutes = (most: number) => Joi.number().integer().min(0).max(most);

export const slugSchema = Joi.string()
  .pattern(/^[a-z0-9]+(-[a-z0-9]+)*$/, 'small letters, figures and hyphens')
  .max(80);

export const planEventSchema = Joi.object<PlanEvent, true>({
  title: title.required(),
  startsAtLocal: local.required(),
  stopsAtLocal: local.required(),
  sourceId: id.allow(null).default(null),
  likeEventId: id.allow(null).default(null),
  channelId: id.allow(null).default(null),
  isDraft: Joi.boolean().default(false),
});

/** What an event and a series of events have in common. */
export const eventFields = {
  title,
  description: Joi.string().allow('').max(EVENT_LIMITS.descriptionLength),
  filmId: id.allow(null),
  channelId: id.allow(null),
  sourceId: id.allow(null),
  destinationIds: Joi.array().items(id).unique().max(100),
  chatOpen: Joi.boolean(),
  doorsMinutes: minutes(EVENT_LIMITS.doorsMinutes),
  overrunMinutes: minutes(EVENT_LIMITS.overrunMinutes),
  deadAirMinutes: minutes(EVENT_LIMITS.deadAirMinutes).min(1),
  rewindMinutes: minutes(EVENT_LIMITS.rewindMinutes),
};

export const dutySchema = Joi.string().valid(...DUTIES);

export const editEventSchema = Joi.object<EditEvent>({
  ...eventFields,
  duties: Joi.array()
    .items(Joi.object<OnDuty, true>({ duty: dutySchema.required(), personId: id.required() }))
    .unique('duty'),
  slug: slugSchema,
  isDraft: Joi.boolean(),
  startsAtLocal: local,
  stopsAtLocal: local,
  zone: Joi.string().max(64),
}).min(1);

export const eventFilterSchema = Joi.object<EventFilter>({
  q: Joi.string().trim().max(EVENT_LIMITS.titleLength).empty(''),
  channelId: id.empty(''),
  sourceId: id.empty(''),
  destinationId: id.empty(''),
  personId: id.empty(''),
  state: Joi.string()
    .valid('draft', ...EVENT_STATES)
    .empty(''),
});

export const chooseEndSchema = Joi.object<ChooseEnd, true>({
  wish: Joi.string().valid('longer', 'on-time').required(),
});

export const pausePlaceSchema = Joi.object<PausePlace, true>({ paused: Joi.boolean().required() });

export const cancelEventSchema = Joi.object<CancelEvent, true>({
  fromState: Joi.string()
    .valid(...EVENT_STATES)
    .required(),
  notice: Joi.string().trim().allow('').max(EVENT_LIMITS.noticeLength).default(''),
});

export const moveEventSchema = Joi.object<MoveEvent>({
  commandId: Joi.string().uuid().required(),
  fromState: Joi.valid(...EVENT_STATES).required(),
});

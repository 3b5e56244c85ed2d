import { EVENT_SETTINGS, SETTING_NAMES, type SettingName } from '@heliphon/core/schedule/event-settings';
import { isRenditionSetting } from '@heliphon/core/ladder/rendition-setting';
import { RENDITION_NAME } from '@heliphon/core/ladder/renditions';
import Joi from 'joi';
import { DUTIES, type OnDuty } from '@heliphon/core/duties/duties';
import { EVENT_STATES } from '@heliphon/core/schedule/event-life';
import {
  type CancelEvent,
  type ChooseEnd,
  type ChooseFeed,
  type ChoosePlaceSize,
  EVENT_LIMITS,
  type EditEvent,
  type EventQuery,
  type MoveEvent,
  type PausePlace,
  type PlanEvent,
} from './events.js';
import { localTimeSchema } from './dates.schema.js';
import { lineSchema } from './text.schema.js';

const title = lineSchema(EVENT_LIMITS.titleLength);
const id = Joi.string().uuid();
function settingSchema(name: SettingName): Joi.Schema {
  const setting = EVENT_SETTINGS[name];
  if (setting.kind === 'flag') return Joi.boolean();
  return setting.kind === 'sizes'
    ? Joi.string().custom((text: string, helpers) =>
        isRenditionSetting(text) ? text : helpers.error('any.only'),
      )
    : Joi.number().multiple(setting.step).min(setting.least).max(setting.most);
}

export const slugSchema = Joi.string()
  .pattern(/^[a-z0-9]+(-[a-z0-9]+)*$/, 'small letters, figures and hyphens')
  .max(80);

export const planEventSchema = Joi.object<PlanEvent, true>({
  title: title.required(),
  startsAtLocal: localTimeSchema.required(),
  stopsAtLocal: localTimeSchema.required(),
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
  standbySourceId: id.allow(null),
  destinationIds: Joi.array().items(id).unique().max(100),
  ...(Object.fromEntries(SETTING_NAMES.map((name) => [name, settingSchema(name)])) as Record<
    SettingName,
    Joi.Schema
  >),
};

export const dutySchema = Joi.string().valid(...DUTIES);

export const editEventSchema = Joi.object<EditEvent>({
  ...eventFields,
  duties: Joi.array()
    .items(Joi.object<OnDuty, true>({ duty: dutySchema.required(), personId: id.required() }))
    .unique('duty'),
  slug: slugSchema,
  isDraft: Joi.boolean(),
  startsAtLocal: localTimeSchema,
  stopsAtLocal: localTimeSchema,
  zone: Joi.string().max(64),
}).min(1);

export const eventQuerySchema = Joi.object<EventQuery>({
  from: Joi.string().max(40),
  to: Joi.string().max(40),
  order: Joi.string().valid('earliest', 'latest'),
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

export const chooseFeedSchema = Joi.object<ChooseFeed, true>({
  from: Joi.string().valid('first', 'standby').required(),
});

export const choosePlaceSizeSchema = Joi.object<ChoosePlaceSize, true>({
  rendition: Joi.string().pattern(RENDITION_NAME).allow(null).required(),
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

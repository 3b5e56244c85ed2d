import { RENDITION_LIMITS } from '@heliphon/core/ladder/renditions';
import Joi from 'joi';
import type { DeleteHouse, EditHouse, OwnSize, VisitCounter } from './house.js';
import { languageTagSchema } from './languages.schema.js';
import { slateWordsSchema } from './slate.schema.js';
import { lineSchema } from './text.schema.js';

const { heightPx, videoBitrateBps } = RENDITION_LIMITS;
const ownSize = Joi.object<OwnSize, true>({
  heightPx: Joi.number().multiple(2).min(heightPx.least).max(heightPx.most).required(),
  videoBitrateBps: Joi.number().integer().min(videoBitrateBps.least).max(videoBitrateBps.most).required(),
});

const visitCounter = Joi.object<VisitCounter, true>({
  // Without a name and password in it, and with nothing that would end its place in a policy (W3C CSP Level 3, 2.3.1).
  scriptUrl: Joi.string()
    .trim()
    .pattern(/^https:\/\/[\w.-]+(?::\d{1,5})?\/[\w./~%-]*$/)
    .max(300)
    .required(),
  attribute: Joi.string()
    .trim()
    .pattern(/^data(?:-[a-z0-9]+)+$/)
    .max(40)
    .required(),
  siteId: Joi.string()
    .trim()
    .pattern(/^[\w.-]+$/)
    .max(80)
    .required(),
});

export const editHouseSchema = Joi.object<EditHouse>({
  name: lineSchema(120),
  zone: Joi.string().max(64),
  language: languageTagSchema,
  rules: Joi.string().trim().min(1).max(4000),
  slateWords: slateWordsSchema,
  slateSoundId: Joi.string().uuid().allow(null),
  visitCounter: visitCounter.allow(null),
  ownSizes: Joi.array().items(ownSize).max(RENDITION_LIMITS.mostOwn).unique('heightPx'),
}).min(1);

export const deleteHouseSchema = Joi.object<DeleteHouse, true>({
  name: Joi.string().max(120).required(),
  password: Joi.string().max(1000).required(),
});

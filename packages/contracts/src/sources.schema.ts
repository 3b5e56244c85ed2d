import Joi from 'joi';
import { SRT_LIMITS } from '@heliphon/core/ingest/srt-report';
import { SOURCE_KINDS } from '@heliphon/core/ingest/source-kinds';
import { PICTURE_SIZES } from '@heliphon/core/ladder/picture-sizes';
import { NODE_ID } from './nodes.js';
import { type AddSource, type AdviseSource, type EditSource, SOURCE_NAME_LENGTH } from './sources.js';
import { lineSchema } from './text.schema.js';

const name = lineSchema(SOURCE_NAME_LENGTH);
const id = Joi.string().uuid();
const nodeId = Joi.string().pattern(NODE_ID).allow(null);
/** Only where a source is of this kind. */
const onlyOf = (kind: string): Joi.Schema =>
  Joi.when('kind', { is: kind, then: id.allow(null), otherwise: Joi.valid(null) }).default(null);

export const addSourceSchema = Joi.object<AddSource>({
  name: name.required(),
  hasPassword: Joi.boolean().default(false),
  nodeId: nodeId.default(null),
  kind: Joi.valid(...SOURCE_KINDS).default('device'),
  followsEventId: onlyOf('programme'),
  followsSeriesId: onlyOf('programme'),
  fileId: Joi.when('kind', { is: 'file', then: id.required(), otherwise: Joi.valid(null).default(null) }),
});

export const editSourceSchema = Joi.object<EditSource, true>({
  name,
  hasPassword: Joi.boolean(),
  followsEventId: id.allow(null),
  followsSeriesId: id.allow(null),
  fileId: id,
  nodeId,
  srt: Joi.object({
    latencyMs: Joi.number()
      .integer()
      .min(SRT_LIMITS.latencyMs.least)
      .max(SRT_LIMITS.latencyMs.most)
      .default(SRT_LIMITS.latencyMs.usual),
  }).allow(null),
}).min(1);

/** Faster than any line there is: what is more was not measured. */
const FASTEST_BPS = 2_000_000_000;

export const adviseSourceSchema = Joi.object<AdviseSource, true>({
  uploadBps: Joi.number().integer().min(1000).max(FASTEST_BPS).allow(null).required(),
  size: Joi.string()
    .valid(...PICTURE_SIZES.map((size) => size.name))
    .allow(null)
    .required(),
});

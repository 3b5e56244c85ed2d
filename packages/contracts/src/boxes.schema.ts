import Joi from 'joi';
import { BOX_INPUTS, type BoxReport } from '@heliphon/core/pairing/device-grant';
import { NODE_ID } from './nodes.js';
import { BOX_NAME_LENGTH, type EditBox, type PairBox } from './boxes.js';
import { lineSchema } from './text.schema.js';

const name = lineSchema(BOX_NAME_LENGTH);

export const pairBoxSchema = Joi.object<PairBox, true>({
  userCode: Joi.string().trim().max(30).required(),
  name: name.required(),
  sourceId: Joi.string().uuid().allow(null).default(null),
});

export const editBoxSchema = Joi.object<EditBox, true>({ name, sourceId: Joi.string().uuid() }).min(1);

/** `client_id` is what the box calls its kind (RFC 8628, 3.1). */
export const deviceAuthorizationSchema = Joi.object<{ client_id: string; scope?: string }>({
  client_id: lineSchema(60).required(),
  scope: Joi.string().max(200).allow(''),
});

export const DEVICE_GRANT = 'urn:ietf:params:oauth:grant-type:device_code';

export const deviceTokenSchema = Joi.object<{ grant_type: string; device_code: string; client_id?: string }>({
  grant_type: Joi.string().max(100).required(),
  device_code: Joi.string().max(100).required(),
  client_id: Joi.string().max(60),
});

export const boxReportSchema = Joi.object<BoxReport, true>({
  batteryPercent: Joi.number().min(0).max(100).allow(null).required(),
  input: Joi.string()
    .valid(...BOX_INPUTS)
    .required(),
  temperatureC: Joi.number().min(-60).max(200).allow(null).required(),
  isSending: Joi.boolean().required(),
  nearestNodeId: Joi.string().pattern(NODE_ID).allow(null).default(null),
});

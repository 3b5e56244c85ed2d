import Joi from 'joi';
import type { ToNode } from '@heliphon/core/ingest/camera-protocol';

const token = Joi.string().max(100).required();
const seq = Joi.number().integer().min(0).max(0xffff_ffff).required();

/** What a browser says to a media node, beside the pieces of its recording. */
export const toNodeSchema = Joi.alternatives<ToNode>().try(
  Joi.object({
    type: Joi.valid('send').required(),
    token,
    sessionId: Joi.string().uuid().required(),
    device: Joi.string().allow('').max(100).required(),
  }),
  Joi.object({ type: Joi.valid('measure').required(), token }),
  Joi.object({ type: Joi.valid('begin').required(), seq, mimeType: Joi.string().max(100).required() }),
  Joi.object({ type: Joi.valid('end').required(), seq }),
);

import Joi from 'joi';
import { CLIP_SECONDS } from '@heliphon/core/packaging/clip-range';
import type { SaveClip } from './clips.js';

export const saveClipSchema = Joi.object<SaveClip, true>({
  seconds: Joi.number().integer().min(CLIP_SECONDS.least).max(CLIP_SECONDS.most).required(),
});

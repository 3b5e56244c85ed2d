import Joi from 'joi';
import { PLAYER_MOMENTS, type PlayerMoment, type TellOfTrouble, VIEWER_FINDINGS } from './viewer-reports.js';

const moment = Joi.object<PlayerMoment>({
  atMs: Joi.number().integer().min(0).required(),
  status: Joi.string().valid('loading', 'playing', 'paused', 'waiting', 'ended', 'blocked').required(),
  lateSeconds: Joi.number().integer().min(0).max(1_000_000).required(),
  isMuted: Joi.boolean().required(),
});

export const tellOfTroubleSchema = Joi.object<TellOfTrouble>({
  complaint: Joi.string().valid('picture', 'sound').required(),
  finding: Joi.string()
    .valid(...VIEWER_FINDINGS)
    .required(),
  moments: Joi.array().items(moment).max(PLAYER_MOMENTS).required(),
});

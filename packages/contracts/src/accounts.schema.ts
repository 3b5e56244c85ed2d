import Joi from 'joi';
import type { BeginLink, ChooseOutlet, FinishLink, OutletsQuery, Unlink } from './accounts.js';

const platform = Joi.string()
  .pattern(/^[a-z]{1,20}$/)
  .required();

export const beginLinkSchema = Joi.object<BeginLink, true>({ platform, accountId: Joi.string().uuid() });

export const finishLinkSchema = Joi.object<FinishLink, true>({
  platform,
  answer: Joi.string().max(4000).required(),
});

export const chooseOutletSchema = Joi.object<ChooseOutlet, true>({ isChosen: Joi.boolean().required() });

export const unlinkSchema = Joi.object<Unlink>({
  postings: Joi.valid('take-down', 'leave').required(),
});

export const outletsQuerySchema = Joi.object<OutletsQuery, true>({ named: Joi.string().allow('').max(100) });

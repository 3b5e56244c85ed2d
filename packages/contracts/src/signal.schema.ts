import Joi from 'joi';
import type { SignalQuery } from './signal.js';

const SECOND_MS = 1000;

export const signalQuerySchema = Joi.object<SignalQuery>({
  lastMs: Joi.number().integer().min(SECOND_MS),
  everyMs: Joi.number().integer().min(SECOND_MS).max(600_000).default(SECOND_MS),
});

import Joi from 'joi';
import { INVITED_LIMITS } from '@heliphon/core/access/invited-list';
import {
  ADMISSIONS,
  type CountryRule,
  type OwnWatchRules,
  type SiteRule,
  WATCH_RULE_LIMITS,
} from '@heliphon/core/access/watch-rules';
import { LEVELS, type Level } from '@heliphon/core/inherited';
import type { AdmitWish, InviteWish, SeenAs, SetWatching, WatchPassword } from './watching.js';

const admission = Joi.string().valid(...ADMISSIONS);
/** A host as browsers name it, with its port where there is one; nothing that would say more in a policy. */
const host = Joi.string()
  .trim()
  .lowercase()
  .max(WATCH_RULE_LIMITS.hostLength)
  .pattern(
    /^(\*\.)?[a-z0-9]([a-z0-9-]*[a-z0-9])?(\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)*(:\d{1,5})?$/,
    'a website',
  );
const country = Joi.string()
  .uppercase()
  .pattern(/^[A-Z]{2}$/, 'a country');
const kind = Joi.string().valid('only', 'not').required();

export const ownWatchRulesSchema = Joi.object<OwnWatchRules>({
  live: admission,
  replay: admission,
  sites: Joi.object<SiteRule>({
    kind,
    hosts: Joi.array().items(host).min(1).max(WATCH_RULE_LIMITS.hosts).unique().required(),
  }).allow(null),
  countries: Joi.object<CountryRule>({
    kind,
    codes: Joi.array().items(country).min(1).max(WATCH_RULE_LIMITS.countries).unique().required(),
    admitsUnknown: Joi.boolean().required(),
  }).allow(null),
  showsTitle: Joi.boolean(),
});

export const setWatchingSchema = Joi.object<SetWatching, true>({ own: ownWatchRulesSchema.required() });
export const levelSchema = Joi.string<Level>().valid(...LEVELS);

export const WATCH_PASSWORD_LENGTH = { least: 4, most: 100 } as const;
export const watchPasswordSchema = Joi.object<WatchPassword, true>({
  password: Joi.string().trim().min(WATCH_PASSWORD_LENGTH.least).max(WATCH_PASSWORD_LENGTH.most).required(),
});

export const inviteSchema = Joi.object<InviteWish, true>({
  list: Joi.string().trim().max(INVITED_LIMITS.listLength).required(),
  devicesMost: Joi.number().integer().min(1).max(INVITED_LIMITS.devices).required(),
  sendsLetters: Joi.boolean().required(),
});

export const admitSchema = Joi.object<AdmitWish>({
  password: Joi.string().trim().max(1000),
  invitation: Joi.string()
    .trim()
    .pattern(/^[0-9a-z]{20,80}$/),
}).xor('password', 'invitation');

export const seenAsSchema = Joi.object<SeenAs, true>({
  country: country.allow(null).required(),
  site: host.allow(null).required(),
  knowsPassword: Joi.boolean().required(),
  isInvited: Joi.boolean().required(),
});

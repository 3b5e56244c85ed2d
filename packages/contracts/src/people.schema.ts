import Joi from 'joi';
import { CAPABILITY_ROLES, ROLES, type Role } from '@heliphon/core/access/capabilities';
import type { SignIn } from './house.js';
import {
  type AcceptInvitation,
  type EditPerson,
  type InvitePerson,
  type MakeToken,
  PASSWORD_LENGTH,
  TOKEN_DAYS,
  type OwnLetters,
} from './people.js';
import { emailSchema, lineSchema } from './text.schema.js';

const name = lineSchema(120);
const roles = Joi.array<Role[]>()
  .items(Joi.valid(...ROLES))
  .min(1)
  .unique();
const password = Joi.string().min(PASSWORD_LENGTH.least).max(PASSWORD_LENGTH.most);
/** Six figures of the telephone, or a recovery code. */
const code = Joi.string().trim().lowercase().max(40);

export const signInSchema = Joi.object<SignIn, true>({
  email: emailSchema.required(),
  password: Joi.string().max(1000).required(),
  code,
});

export const invitePersonSchema = Joi.object<InvitePerson>({
  email: emailSchema.required(),
  name: name.required(),
  roles: roles.required(),
});

export const editPersonSchema = Joi.object<EditPerson>({ roles: roles.required() });

export const acceptInvitationSchema = Joi.object<AcceptInvitation>({ name, password });

export const forgottenSchema = Joi.object<{ email: string }, true>({ email: emailSchema.required() });

export const makeTokenSchema = Joi.object<MakeToken>({
  name: lineSchema(80).required(),
  scopes: Joi.array()
    .items(Joi.valid(...Object.keys(CAPABILITY_ROLES)))
    .min(1)
    .unique()
    .allow(null)
    .default(null),
  days: Joi.number().integer().min(1).max(TOKEN_DAYS.most).default(TOKEN_DAYS.usual),
});

export const codeSchema = Joi.object<{ code: string }, true>({ code: code.required() });
export const passwordSchema = Joi.object<{ password: string }, true>({
  password: Joi.string().max(1000).required(),
});
export const switchHouseSchema = Joi.object<{ houseId: string }, true>({
  houseId: Joi.string().uuid().required(),
});

export const ownLettersSchema = Joi.object<OwnLetters, true>({ morning: Joi.boolean().required() });

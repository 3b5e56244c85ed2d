import Joi from 'joi';
import {
  GROUND_PICTURE_LIMITS,
  type GroundPicture,
  PICTURE_FITS,
  type Spot,
} from '@heliphon/core/appearance/ground-picture';
import { COLOUR_PATTERN } from '@heliphon/core/appearance/colour';
import {
  COMPANIONS,
  LOOK_COLOURS,
  LOOK_LIMITS,
  type OwnLook,
  TYPE_SIZES_PERCENT,
} from '@heliphon/core/appearance/look';
import { LOOK_SUBJECTS, type LookSubject, type SetLook } from './look.js';

const colour = Joi.string().pattern(COLOUR_PATTERN, 'a colour').lowercase();
const { cornerPx, footLength, wordsLength, addressLength } = LOOK_LIMITS;

const share = Joi.number().min(0).max(1).required();
const spot = Joi.object<Spot, true>({ colour: colour.required(), x: share, y: share });

export const ownLookSchema = Joi.object<OwnLook>({
  ...Object.fromEntries(LOOK_COLOURS.map((name) => [name, colour])),
  picture: Joi.object<GroundPicture, true>({
    id: Joi.string().uuid().required(),
    fit: Joi.string()
      .valid(...PICTURE_FITS)
      .required(),
    veilPercent: Joi.number().integer().min(0).max(GROUND_PICTURE_LIMITS.mostVeilPercent).required(),
    // As they were when the picture was taken: the server puts them in.
    spots: Joi.object({ darkest: spot.required(), lightest: spot.required() }).required(),
  }).allow(null),
  typeSizePercent: Joi.number().valid(...TYPE_SIZES_PERCENT),
  cornerPx: Joi.number().integer().min(cornerPx.least).max(cornerPx.most),
  foot: Joi.string().trim().allow('').max(footLength),
  showsOurs: Joi.boolean(),
  logo: Joi.string().uuid().allow(null),
  nightLogo: Joi.string().uuid().allow(null),
  hasNight: Joi.boolean(),
  showsCount: Joi.boolean(),
  companions: Joi.array()
    .items(Joi.valid(...COMPANIONS))
    .unique(),
  words: Joi.string().trim().allow('').max(wordsLength),
  address: Joi.string().trim().allow('').max(addressLength),
  giveUrl: Joi.string()
    .trim()
    .uri({ scheme: ['https'] })
    .allow('')
    .max(500),
});

export const setLookSchema = Joi.object<SetLook, true>({ own: ownLookSchema.required() });
export const lookSubjectSchema = Joi.string<LookSubject>().valid(...LOOK_SUBJECTS);

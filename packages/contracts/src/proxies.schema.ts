import Joi from 'joi';

/** `HELIPHON_TRUSTED_PROXIES`: whose word counts for who asks: addresses, networks (CIDR), `loopback`; a comma between. */
export const proxiesSchema = Joi.string()
  .empty('')
  .custom((text: string, helpers) => {
    const list = text.split(',').map((one) => one.trim());
    const network = Joi.string().ip({ cidr: 'optional' });
    const isWrong = list.some((one) => one !== 'loopback' && network.validate(one).error !== undefined);
    return isWrong ? helpers.error('any.invalid') : list;
  })
  .default([]);

import 'reflect-metadata';
import Joi from 'joi';
import { emailSchema } from '@heliphon/contracts/text.schema';
import { isZone } from '@heliphon/core/schedule/civil-time';
import { InvitationsService } from './people/invitations.service.js';
import { Clock } from './platform/clock.js';
import { readConfig } from './platform/config.js';
import { Database, systemContext } from './platform/database.js';
import { HouseEntity } from './platform/entities.js';
import { newId } from './platform/ids.js';
import { openContext, stopServer } from './server.js';

const RULES = 'Be kind. Nothing hurtful, nothing for sale. Our moderators may take messages away.';

const [name, email, zone] = Joi.attempt(
  process.argv.slice(2),
  Joi.array<[string, string, string]>().ordered(
    Joi.string().trim().min(1).max(120).required(),
    emailSchema.required(),
    Joi.string().required(),
  ),
);
if (!isZone(zone)) throw new Error(`${zone} is no time zone. Europe/London is one.`);

const config = readConfig(process.env);
const app = await openContext(config);
const manager = app.get(Database).installation;
const house = await manager.save(
  manager.create(HouseEntity, {
    id: newId(),
    name,
    zone,
    look: null,
    rules: RULES,
    createdAtMs: app.get(Clock).nowMs(),
  }),
);
const publicUrl = (config.publicUrl ?? `http://${config.bind}:${config.port}`).replace(/\/$/, '');
const link = await app
  .get(InvitationsService)
  .invite(
    systemContext(house.id, 'system'),
    { email, name: email.split('@')[0]!, roles: ['owner'] },
    publicUrl,
  );
await stopServer(app);
process.stdout.write(`${name} is there. Its owner comes in by this link, within seven days:\n${link}\n`);

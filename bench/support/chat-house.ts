import { ServerDriver } from '../../apps/server/test/driver.js';

/** A server in a process of its own with one event whose doors are open; says where it is. */
const driver = await ServerDriver.start();
const house = await driver.house();
const event = (await house.move(await house.event(600, 660), 'open-doors')).body;
process.once('disconnect', () => void driver.stop().then(() => process.exit(0)));
process.send!({ url: driver.url, slug: event.slug });

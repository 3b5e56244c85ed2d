import type { ConsentAddress, OutletView } from '@heliphon/contracts/accounts';
import type { DestinationView } from '@heliphon/contracts/destinations';
import type { EventView } from '@heliphon/contracts/events';
import type { PostingView } from '@heliphon/contracts/postings';
import type { Page } from '@heliphon/contracts/problem';
import type { MailBox } from '../../standins/src/mail/mail-box.js';
import { answerConsent, CLIENT, type Given, type PlatformName, World } from '../../standins/test/world.js';
import { type HouseClient, type ServerDriver, startWithMail, until } from './driver.js';

export const OURS = 'http://house.example';
export const DAY_MIN = 24 * 60;

/** A server that is known at both simulated platforms, on one clock with them. */
export class PlatformHouse {
  private constructor(
    readonly world: World,
    readonly server: ServerDriver,
    readonly mail: MailBox,
    private readonly clock: { offsetMs: number },
    private readonly stopServer: () => Promise<void>,
  ) {}

  static async start(): Promise<PlatformHouse> {
    const clock = { offsetMs: 0 };
    const world = await World.open(`${OURS}/linked`, () => Date.now() + clock.offsetMs);
    const settings = (name: PlatformName) => ({
      url: world.sites[name],
      clientId: CLIENT.id,
      clientSecret: CLIENT.secret,
    });
    const { server, mail, stop } = await startWithMail({
      publicUrl: OURS,
      platforms: { skerry: settings('skerry'), windlass: settings('windlass') },
    });
    return new PlatformHouse(world, server, mail, clock, stop);
  }

  /** Moves both clocks, ours and the platforms'. @param ms - from now on */
  async pass(ms: number): Promise<void> {
    this.clock.offsetMs = ms;
    await this.server.setClock(ms);
  }

  /** @returns the id of the account that was linked */
  async link(house: HouseClient, platform: PlatformName, given: Given, accountId?: string): Promise<string> {
    const wish = { platform, ...(accountId ? { accountId } : {}) };
    const { address } = (await house.post<ConsentAddress>('/api/accounts/consents', wish)).body;
    const back = await answerConsent(address, given);
    return (await house.post<{ id: string }>('/api/accounts', { platform, answer: back.search })).body.id;
  }

  /** Links an account and ticks an outlet. @returns the place that it is, and its account */
  async placeAt(
    house: HouseClient,
    platform: PlatformName,
    outlet: string,
    given: Given = {},
  ): Promise<{ placeId: string; accountId: string }> {
    const accountId = await this.link(house, platform, { ...given, outlets: [outlet] });
    const outlets = `/api/accounts/${accountId}/outlets`;
    const { id } = (await house.get<Page<OutletView>>(outlets)).body.items[0]!;
    await house.patch(`${outlets}/${id}`, null, { isChosen: true });
    const places = (await house.get<Page<DestinationView>>('/api/destinations')).body.items;
    const place = places.find((one) => one.kind === 'outlet' && one.outletId === id);
    return { placeId: place!.id, accountId };
  }

  /** What stands at a platform, and one of it by its title. */
  there(name: PlatformName) {
    return this.world.platforms[name].postings.all;
  }
  byTitle(name: PlatformName, title: string) {
    return this.there(name).find((posting) => posting.title === title);
  }

  async stop(): Promise<void> {
    await this.stopServer();
    await this.world.close();
  }
}

/** Changes an event as it is now. */
export async function change(house: HouseClient, event: EventView, body: object): Promise<EventView> {
  const { version } = await house.current(event);
  return (await house.patch<EventView>(`/api/events/${event.id}`, version, body)).body;
}

/** An event that goes to a place; in one step, so that it is posted as it is. @param fromMinutes - until its start */
export const eventAt = async (
  house: HouseClient,
  placeId: string,
  title = 'Lamplight Evensong',
  fromMinutes = 2 * DAY_MIN,
): Promise<EventView> =>
  change(house, await house.event(fromMinutes, fromMinutes + 60), {
    title,
    description: 'By candlelight.',
    destinationIds: [placeId],
  });

export const postingsOf = async (house: HouseClient, { id }: EventView): Promise<readonly PostingView[]> =>
  (await house.get<{ items: PostingView[] }>(`/api/events/${id}/postings`)).body.items;

export const stands = (house: HouseClient, event: EventView, state: PostingView['state']) =>
  until(async () => {
    const [posting] = await postingsOf(house, event);
    return posting?.state === state && posting;
  }, `the posting to be ${state}`);

import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from '../../keeper/src/ports.js';
import { openPlatforms, type Platforms } from '../src/platforms/open-platforms.js';

export type PlatformName = 'skerry' | 'windlass';

export const CLIENT = { id: 'heliphon', name: 'Heliphon', secret: 'nobody-guesses-this' } as const;

/** What a person says on a consent page. */
export interface Given {
  readonly person?: string;
  readonly outlets?: readonly string[];
  readonly audience?: string;
  readonly answer?: 'allow' | 'deny';
}

/** Both platforms on free ports, in a folder of their own. */
export class World {
  private constructor(
    readonly platforms: Platforms,
    readonly sites: Readonly<Record<PlatformName, string>>,
    private readonly folder: string,
  ) {}

  /** @param redirectBase - where people are sent back to, with the platform's name behind it */
  static async open(redirectBase: string, now: () => number): Promise<World> {
    const folder = await mkdtemp(join(tmpdir(), 'heliphon-platforms-'));
    const ports = {
      skerry: await freePort(),
      skerryIngest: await freePort(),
      windlass: await freePort(),
      windlassIngest: await freePort(),
    };
    const platforms = await openPlatforms({
      ports,
      client: { ...CLIENT, redirectBase },
      certificateFile: join(folder, 'windlass.pem'),
      now,
    });
    const sites = {
      skerry: `http://localhost:${ports.skerry}`,
      windlass: `http://localhost:${ports.windlass}`,
    };
    return new World(platforms, sites, folder);
  }

  async close(): Promise<void> {
    await this.platforms.close();
    await rm(this.folder, { recursive: true });
  }
}

/** What a person's browser does with a consent page. @returns where it is sent back to */
export async function answerConsent(
  address: string,
  { person = 'ines', outlets = [], audience = 'everyone', answer = 'allow' }: Given,
): Promise<URL> {
  const { origin, searchParams: form } = new URL(address);
  for (const [name, value] of Object.entries({ person, audience, answer })) form.set(name, value);
  for (const outlet of outlets) form.append('outlets', outlet);
  const back = await fetch(`${origin}/consent`, { method: 'POST', body: form, redirect: 'manual' });
  return new URL(back.headers.get('location')!);
}

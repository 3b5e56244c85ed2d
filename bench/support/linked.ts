import { join } from 'node:path';
import { freePort } from '../../apps/keeper/src/ports.js';
import { openPlatforms } from '../../apps/standins/src/platforms/open-platforms.js';

/** So many postings at each of the two platforms. */
const AT_EACH = 5;

/** Places at both platforms, each with a posting and a key of its own: one over RTMP, the other over RTMPS alone. */
export interface LinkedPlaces {
  readonly addresses: readonly string[];
  /** How many of them have the picture now. */
  live(): number;
  close(): Promise<void>;
}

/** Opens the platforms in this process; the certificate of the secure one is known to nodes started after. */
export async function openLinked(folder: string): Promise<LinkedPlaces> {
  const [skerry, skerryIngest, windlass, windlassIngest] = [
    await freePort(),
    await freePort(),
    await freePort(),
    await freePort(),
  ] as const;
  const certificateFile = join(folder, 'platforms.pem');
  const platforms = await openPlatforms({
    ports: { skerry, skerryIngest, windlass, windlassIngest },
    client: { id: 'bench', name: 'Bench', secret: 'x'.repeat(40), redirectBase: 'http://127.0.0.1/linked' },
    certificateFile,
  });
  process.env.HELIPHON_CA_FILE = certificateFile;
  const places = [
    { world: platforms.skerry, outletId: 'quay', ingest: `rtmp://localhost:${skerryIngest}/live` },
    { world: platforms.windlass, outletId: 'bells', ingest: `rtmps://localhost:${windlassIngest}/in` },
  ].flatMap(({ world, outletId, ingest }) =>
    Array.from({ length: AT_EACH }, (_, index) => {
      const wish = {
        title: `Copy ${index}`,
        text: '',
        startsAtMs: Date.now(),
        audience: 'everyone' as const,
      };
      const { id, key } = world.postings.post(outletId, `copy ${index}`, wish);
      world.postings.start(id, Date.now());
      return { address: `${ingest}/${key}`, isLive: () => world.isLive(world.postings.get(id)!) };
    }),
  );
  return {
    addresses: places.map(({ address }) => address),
    live: () => places.filter(({ isLive }) => isLive()).length,
    close: () => platforms.close(),
  };
}

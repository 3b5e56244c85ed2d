import Joi from 'joi';
import type { WhipSettings } from './ingest/whip-session.js';
import type { NodeSelf } from '@heliphon/core/control/observations';
import { proxiesSchema } from '@heliphon/contracts/proxies.schema';
import { NODE_ID, NODE_PLACE_LENGTH } from '@heliphon/contracts/nodes';
import type { CertificateFiles } from './ingest/certificate.js';

export interface MediaConfig {
  readonly bind: string;
  readonly playbackPort: number;
  readonly rtmpPort: number;
  /** The first UDP port for SRT; each source that uses it has one from here on. */
  readonly srtFirstPort: number;
  /** Where it stands, and how it is reached from outside; `null` where nobody said. */
  readonly outside: Pick<NodeSelf, 'place' | 'mediaUrl' | 'rtmpUrl' | 'rtmpsUrl'>;
  /** RTMP over TLS, where the house has a certificate. */
  readonly secureRtmp: (CertificateFiles & { readonly port: number }) | null;
  readonly whip: WhipSettings;
  /** Whose word counts for who asks: addresses, networks, `loopback`. */
  readonly trustedProxies: readonly string[];
  /** Whether sources are looked at and listened to: black, still, silent, loud. Nearly half of what a straight programme takes. */
  readonly checksSignals: boolean;
  /** Places may be on this machine or in its network. */
  readonly innerPlaces: boolean;
  /** Disk space that recording leaves free. */
  readonly diskReserveBytes: number;
  readonly dataFolder: string;
  /** Where the server is, `http://host:port`; absent where a test hands over the desired state itself. */
  readonly serverUrl: string | null;
  readonly nodeId: string;
  readonly nodeSecret: string;
}

const port = Joi.number().port().default(0);

const url = (...scheme: string[]): Joi.StringSchema => Joi.string().uri({ scheme }).empty('');

const environment = Joi.object<Record<string, string>>({
  HELIPHON_BIND: Joi.string().default('127.0.0.1'),
  HELIPHON_MEDIA_PORT: port.default(4610),
  HELIPHON_RTMP_PORT: port.default(1935),
  HELIPHON_SRT_PORT: Joi.number().port().default(4640),
  /** In words, for anyone who chooses where to send. */
  HELIPHON_NODE_PLACE: Joi.string().trim().max(NODE_PLACE_LENGTH).empty(''),
  HELIPHON_MEDIA_URL: url('http', 'https'),
  HELIPHON_RTMP_URL: url('rtmp'),
  HELIPHON_RTMPS_URL: url('rtmps'),
  /** Addresses that WHIP answers from, and the UDP ports it uses there: `from-to`. */
  HELIPHON_WHIP_ADDRESSES: Joi.string().allow('').default('127.0.0.1'),
  HELIPHON_WHIP_PORTS: Joi.string().pattern(/^\d{1,5}-\d{1,5}$/),
  HELIPHON_TRUSTED_PROXIES: proxiesSchema,
  HELIPHON_RTMPS_PORT: Joi.number().port(),
  HELIPHON_TLS_CERTIFICATE: Joi.string(),
  HELIPHON_TLS_KEY: Joi.string(),
  HELIPHON_SIGNAL_CHECKS: Joi.string().valid('on', 'off').default('on'),
  HELIPHON_INNER_PLACES: Joi.valid('0', '1').default('0'),
  HELIPHON_DISK_RESERVE_MB: Joi.number().integer().min(0).default(1000),
  HELIPHON_DATA: Joi.string().required(),
  HELIPHON_SERVER_URL: Joi.string()
    .uri({ scheme: ['http', 'https'] })
    .required(),
  HELIPHON_NODE_ID: Joi.string().pattern(NODE_ID).required(),
  HELIPHON_NODE_SECRET: Joi.string().min(32).required(),
})
  .and('HELIPHON_RTMPS_PORT', 'HELIPHON_TLS_CERTIFICATE', 'HELIPHON_TLS_KEY')
  .unknown();

/** @throws Joi.ValidationError naming the setting that is missing or wrong. */
export function readConfig(env: NodeJS.ProcessEnv): MediaConfig {
  const value = Joi.attempt(env, environment) as Record<string, string>;
  return {
    bind: value.HELIPHON_BIND!,
    playbackPort: Number(value.HELIPHON_MEDIA_PORT),
    rtmpPort: Number(value.HELIPHON_RTMP_PORT),
    srtFirstPort: Number(value.HELIPHON_SRT_PORT),
    whip: {
      addresses: value.HELIPHON_WHIP_ADDRESSES!.split(',').filter(Boolean),
      portRange: value.HELIPHON_WHIP_PORTS?.split('-').map(Number) as [number, number] | undefined,
    },
    trustedProxies: value.HELIPHON_TRUSTED_PROXIES as unknown as string[],
    secureRtmp: value.HELIPHON_RTMPS_PORT
      ? {
          port: Number(value.HELIPHON_RTMPS_PORT),
          certificateFile: value.HELIPHON_TLS_CERTIFICATE!,
          keyFile: value.HELIPHON_TLS_KEY!,
        }
      : null,
    outside: {
      place: value.HELIPHON_NODE_PLACE ?? null,
      mediaUrl: value.HELIPHON_MEDIA_URL ?? null,
      rtmpUrl: value.HELIPHON_RTMP_URL ?? null,
      rtmpsUrl: value.HELIPHON_RTMPS_URL ?? null,
    },
    checksSignals: value.HELIPHON_SIGNAL_CHECKS === 'on',
    innerPlaces: value.HELIPHON_INNER_PLACES === '1',
    diskReserveBytes: Number(value.HELIPHON_DISK_RESERVE_MB) * 1e6,
    dataFolder: value.HELIPHON_DATA!,
    serverUrl: value.HELIPHON_SERVER_URL!,
    nodeId: value.HELIPHON_NODE_ID!,
    nodeSecret: value.HELIPHON_NODE_SECRET!,
  };
}

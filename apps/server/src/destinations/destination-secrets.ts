import { Inject, Injectable } from '@nestjs/common';
import {
  formatRtmpAddress,
  isLoginPart,
  parseRtmpAddress,
  RTMP_DEFAULT_PORTS,
  type RtmpAddress,
} from '@heliphon/core/destinations/rtmp-address';
import { isInnerAddress, isIpAddress } from '@heliphon/core/net/inner-address';
import type { DestinationParts } from '@heliphon/contracts/destinations';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { refusedField } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import type { AddressedPlace } from '../tables/destination.entity.js';

type Named = Pick<AddressedPlace, 'houseId' | 'id'>;
type Sealed = Pick<
  AddressedPlace,
  'scheme' | 'host' | 'port' | 'application' | 'sealedStreamName' | 'sealedLogin'
>;

const placeOf = ({ houseId, id }: Named, column: 'sealed_stream_name' | 'sealed_login'): SealPlace => ({
  houseId,
  table: 'destinations',
  column,
  id,
});

function isInner(host: string): boolean {
  const name = host.replace(/^\[|\]$/g, '').toLowerCase();
  return isIpAddress(name) ? isInnerAddress(name) : /(^|\.)localhost\.?$/.test(name);
}

/** Takes addresses of places apart, seals what is secret in them, and puts them together for who sends. */
@Injectable()
export class DestinationSecrets {
  constructor(
    private readonly secrets: Secrets,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  /** @throws ProblemError 422 that says what is wrong with the address. */
  sealPasted(named: Named, pasted: string): Sealed {
    const address = parseRtmpAddress(pasted);
    if (!address.ok) throw refusedField('address', `address-${address.error.code}`);
    // A name that means an inner address is found out by the node that sends there.
    if (!this.config.innerPlaces && isInner(address.value.host))
      throw refusedField('address', 'address-inner');
    return this.#seal(named, address.value);
  }

  /** @param known - the place as it is, whose secrets stay where the parts bring none. */
  sealParts(named: Named, parts: DestinationParts, known: AddressedPlace | null): Sealed {
    const before = known && this.open(known);
    const streamName = parts.streamName ?? before?.streamName;
    const password = parts.password ?? before?.login?.password;
    if (!streamName) throw refusedField('parts.streamName', 'address-no-stream-name');
    if (parts.user !== null && !password) throw refusedField('parts.password', 'address-bad-login');
    const login = parts.user === null ? null : { user: parts.user, password: password! };
    if (login && !(isLoginPart(login.user) && !login.user.includes(':') && isLoginPart(login.password)))
      throw refusedField('parts.user', 'address-bad-login');
    const { scheme, host, application } = parts;
    const port = parts.port ?? RTMP_DEFAULT_PORTS[scheme];
    return this.sealPasted(named, formatRtmpAddress({ scheme, host, port, application, streamName, login }));
  }

  open(row: AddressedPlace): RtmpAddress {
    const { scheme, host, port, application, sealedStreamName, sealedLogin } = row;
    const login = sealedLogin && this.secrets.open(sealedLogin, placeOf(row, 'sealed_login'));
    return {
      scheme,
      host,
      port,
      application,
      streamName: this.secrets.open(sealedStreamName, placeOf(row, 'sealed_stream_name')),
      login: login ? (JSON.parse(login) as RtmpAddress['login']) : null,
    };
  }

  /** Whole, with its secrets. */
  addressOf(row: AddressedPlace): string {
    return formatRtmpAddress(this.open(row));
  }

  #seal(named: Named, { scheme, host, port, application, streamName, login }: RtmpAddress): Sealed {
    return {
      scheme,
      host,
      port,
      application,
      sealedStreamName: this.secrets.seal(streamName, placeOf(named, 'sealed_stream_name')),
      sealedLogin: login && this.secrets.seal(JSON.stringify(login), placeOf(named, 'sealed_login')),
    };
  }
}

import type { IncomingMessage, ServerResponse } from 'node:http';
import { readOffer } from '@heliphon/core/ingest/whip-sdp';
import type { Clock } from '../clock.js';
import type { ChildProcesses } from '../processes/child-processes.js';
import type { TrustedProxies } from './address-of.js';
import { refusalSentence } from './refusal-sentences.js';
import type { SourceRegistry } from './source-registry.js';
import { WhipSession, type WhipSettings } from './whip-session.js';

export const WHIP_PATH = '/whip';
const LONGEST_OFFER = 30_000;
const CORS = {
  'Access-Control-Allow-Origin': '*',
  'Access-Control-Expose-Headers': 'Location',
  'Access-Control-Allow-Methods': 'POST, DELETE, OPTIONS',
  'Access-Control-Allow-Headers': 'Authorization, Content-Type',
};

/** What RFC 9110 (11.6.1) wants beside a 401. */
const CHALLENGE = { 'WWW-Authenticate': 'Bearer realm="whip"' };

/** Where encoders that speak WHIP come in (RFC 9725): the source's key is their bearer token. */
export class WhipServer {
  readonly #sessions = new Map<string, WhipSession>();

  constructor(
    private readonly registry: SourceRegistry,
    private readonly clock: Clock,
    private readonly children: ChildProcesses,
    private readonly settings: WhipSettings,
    private readonly proxies: TrustedProxies,
  ) {}

  /** Answers what came to `/whip` or one of its sessions. */
  async serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const id = (request.url ?? '').slice(WHIP_PATH.length + 1);
    if (request.method === 'OPTIONS') return void response.writeHead(204, CORS).end();
    if (request.method === 'POST' && id === '') return this.#begin(request, response);
    if (request.method === 'DELETE') {
      const session = this.#sessions.get(id);
      session?.over('encoder-stopped');
      return say(response, session ? 200 : 404, session ? 'Ended.' : 'There is no such session.');
    }
    // Candidates one by one (trickle) are not needed: the answer carries all of ours.
    const methods = id === '' ? 'POST, OPTIONS' : 'DELETE, OPTIONS';
    say(response, 405, 'Begin with POST, end with DELETE.', { Allow: methods });
  }

  close(): void {
    for (const session of this.#sessions.values()) session.over('node-stopping');
  }

  async #begin(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const [, key] = /^Bearer (\S{1,100})$/.exec(request.headers.authorization ?? '') ?? [];
    if (!key) return say(response, 401, 'Put the key of the source in as the bearer token.', CHALLENGE);
    if (!/^application\/sdp\s*(;|$)/i.test(request.headers['content-type'] ?? ''))
      return say(response, 415, 'Send a session description, as application/sdp.', {
        'Accept-Post': 'application/sdp',
      });
    const sdp = await bodyOf(request);
    const offer = sdp === null ? null : readOffer(sdp);
    if (sdp === null || !offer) return say(response, 400, 'This is no session description.');
    if (offer.offersVideo && !offer.hasH264)
      return say(response, 406, refusalSentence('video-codec', 'this kind'));
    let session: WhipSession | null = null;
    const origin = { remoteAddress: this.proxies.addressOf(request), protocol: 'whip' } as const;
    const admission = this.registry.admit(key, null, origin, () => session?.over('turned-away'));
    if (!admission.ok) {
      const status =
        admission.reason === 'too-many-tries' ? 429 : admission.reason === 'already-sending' ? 409 : 401;
      return say(response, status, refusalSentence(admission.reason), status === 401 ? CHALLENGE : {});
    }
    const { connection } = admission;
    const id = connection.connectionId;
    session = new WhipSession(connection, this.clock, this.children, this.settings, (reason) => {
      this.#sessions.delete(id);
      this.registry.gone(connection, reason);
    });
    this.#sessions.set(id, session);
    try {
      const answer = await session.answer(sdp);
      response
        .writeHead(201, { ...CORS, 'Content-Type': 'application/sdp', Location: `${WHIP_PATH}/${id}` })
        .end(answer);
    } catch {
      session.over('unreadable');
      say(response, 400, 'This offer could not be read.');
    }
  }
}

function say(
  response: ServerResponse,
  status: number,
  sentence: string,
  headers: Readonly<Record<string, string>> = {},
): void {
  response
    .writeHead(status, { ...CORS, ...headers, 'Content-Type': 'text/plain; charset=utf-8' })
    .end(sentence);
}

/** @returns `null` for a body that is too long */
async function bodyOf(request: IncomingMessage): Promise<string | null> {
  let text = '';
  for await (const chunk of request) {
    text += String(chunk);
    if (text.length > LONGEST_OFFER) return null;
  }
  return text;
}

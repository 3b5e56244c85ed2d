import Joi from 'joi';
import {
  type Audience,
  AUDIENCES,
  type ConnectorFacts,
  OUTLET_KINDS,
} from '@heliphon/core/connectors/connector-facts';
import { succeed } from '@heliphon/core/result';
import type { PlatformSettings } from '../platform/config.js';
import { Consent } from './consent.js';
import { OAuthConnector } from './oauth-connector.js';
import type {
  AccountThere,
  Answer,
  CommentThere,
  Connector,
  ConnectorRefusal,
  OutletThere,
  PostingThere,
  PostingWish,
} from './connector.js';
import { type Question, Questions } from './questions.js';

const FACTS: ConnectorFacts = {
  name: 'Skerry',
  outletKinds: ['wall', 'page', 'group'],
  needsStart: false,
  endsWithoutPictureMs: 30_000,
  longestMs: 4 * 3_600_000,
  isSecure: false,
  titleLength: 200,
  textLength: 5000,
  hasComments: true,
};

const REFUSALS: Readonly<Record<string, ConnectorRefusal>> = {
  bad_token: { code: 'token-expired' },
  outlet_not_granted: { code: 'not-granted' },
  group_has_not_allowed: { code: 'not-let-in' },
  unknown: { code: 'unknown' },
};
const refusalSchema = Joi.object<{ error: { code: string } }>({
  error: Joi.object({ code: Joi.string().required() }).unknown().required(),
}).unknown();

const iso = Joi.date().iso().required();
const text = Joi.string().allow('').required();
const audience = Joi.valid(...AUDIENCES).required();
const meSchema = Joi.object<{ id: string; name: string; audience: Audience; consent_ends_at: Date }>({
  id: text,
  name: text,
  audience,
  consent_ends_at: iso,
});

interface Listed<T> {
  readonly data: readonly T[];
  readonly next: string | null;
}
const listOf = <T>(item: Joi.ObjectSchema<T>) =>
  Joi.object<Listed<T>>({
    data: Joi.array().items(item).required(),
    next: Joi.string().allow(null).required(),
  });

type Outlet = Pick<OutletThere, 'id' | 'kind' | 'name'> & { readonly can_post: boolean };
const outletsSchema = listOf<Outlet>(
  Joi.object<Outlet>({
    id: text,
    kind: Joi.valid(...OUTLET_KINDS).required(),
    name: text,
    can_post: Joi.boolean().required(),
  }),
);

interface Broadcast {
  readonly id: string;
  readonly outlet: string;
  readonly title: string;
  readonly text: string;
  readonly starts_at: Date;
  readonly audience: Audience;
  readonly state: 'scheduled' | 'live' | 'ended';
  readonly ended_because: PostingThere['endedBecause'];
  readonly link: string;
  readonly ingest: { readonly server: string; readonly key: string };
}
const broadcastSchema = Joi.object<Broadcast>({
  id: text,
  outlet: text,
  title: text,
  text,
  starts_at: iso,
  audience,
  state: Joi.valid('scheduled', 'live', 'ended').required(),
  ended_because: Joi.valid('sender', 'no-picture', 'too-long', null).required(),
  link: Joi.string().uri().required(),
  ingest: Joi.object({ server: text, key: text }).required(),
});
type Comment = Pick<CommentThere, 'author' | 'text'> & { readonly id: number; readonly at: Date };
const commentsSchema = listOf<Comment>(
  Joi.object<Comment>({ id: Joi.number().required(), author: text, text, at: iso }),
);
const viewersSchema = Joi.object<{ viewers: number }>({ viewers: Joi.number().integer().required() });

const STATES = { scheduled: 'planned', live: 'open', ended: 'ended' } as const;

/** The social network Skerry: people's walls, pages and groups. */
export class SkerryConnector extends OAuthConnector implements Connector {
  readonly kind = 'skerry';
  readonly facts = FACTS;
  readonly #questions: Questions;

  constructor(settings: PlatformSettings, nowMs: () => number) {
    const paths = { consent: '/consent', token: '/oauth/token', revoke: '/oauth/revoke' };
    super(new Consent(settings, paths), nowMs);
    this.#questions = new Questions(`${settings.url}/v1`, (_status, body) => {
      const { error, value } = refusalSchema.validate(body);
      return error ? null : (REFUSALS[value.error.code] ?? null);
    });
  }

  async account(accessToken: string): Answer<AccountThere> {
    const answer = await this.#questions.ask({ path: '/me', accessToken }, meSchema);
    if (!answer.ok) return answer;
    const { id, name, audience: widest, consent_ends_at } = answer.value;
    return succeed({ id, name, audience: widest, consentEndsAtMs: consent_ends_at.getTime() });
  }

  async outlets(accessToken: string): Answer<readonly OutletThere[]> {
    const found: OutletThere[] = [];
    for (let after: string | null = ''; after !== null;) {
      const path: string = `/outlets?after=${after}`;
      const answer = await this.#questions.ask({ path, accessToken }, outletsSchema);
      if (!answer.ok) return answer;
      for (const { can_post, ...outlet } of answer.value.data) found.push({ ...outlet, hasLetIn: can_post });
      after = answer.value.next;
    }
    return succeed(found);
  }

  post(accessToken: string, wish: PostingWish): Answer<PostingThere> {
    const body = { ...fieldsOf(wish), outlet: wish.outletId, ref: wish.ref };
    return this.#broadcast({ method: 'POST', path: '/broadcasts', accessToken, body });
  }

  async find(
    accessToken: string,
    { outletId, ref }: Pick<PostingWish, 'outletId' | 'ref'>,
  ): Answer<PostingThere | null> {
    const path = `/broadcasts?ref=${encodeURIComponent(ref)}`;
    const answer = await this.#questions.ask({ path, accessToken }, listOf(broadcastSchema));
    if (!answer.ok) return answer;
    const found = answer.value.data.find(({ outlet }) => outlet === outletId);
    return succeed(found ? postingOf(found) : null);
  }

  look(accessToken: string, postingId: string): Answer<PostingThere> {
    return this.#broadcast({ path: `/broadcasts/${postingId}`, accessToken });
  }

  change(accessToken: string, postingId: string, wish: PostingWish): Answer<PostingThere> {
    const path = `/broadcasts/${postingId}`;
    return this.#broadcast({ method: 'PATCH', path, accessToken, body: fieldsOf(wish) });
  }

  picture(accessToken: string, postingId: string, jpeg: Uint8Array): Answer<null> {
    const path = `/broadcasts/${postingId}/picture`;
    return this.#questions.tell({ method: 'PUT', path, accessToken, body: jpeg });
  }

  takeDown(accessToken: string, postingId: string): Answer<null> {
    return this.#questions.tell({ method: 'DELETE', path: `/broadcasts/${postingId}`, accessToken });
  }

  begin(accessToken: string, postingId: string): Answer<PostingThere> {
    return this.look(accessToken, postingId);
  }

  end(accessToken: string, postingId: string): Answer<PostingThere> {
    return this.#broadcast({ method: 'POST', path: `/broadcasts/${postingId}/end`, accessToken });
  }

  async viewers(accessToken: string, postingId: string): Answer<number> {
    const path = `/broadcasts/${postingId}/viewers`;
    const answer = await this.#questions.ask({ path, accessToken }, viewersSchema);
    return answer.ok ? succeed(answer.value.viewers) : answer;
  }

  async comments(
    accessToken: string,
    postingId: string,
    afterId: string | null,
  ): Answer<readonly CommentThere[]> {
    const found: CommentThere[] = [];
    for (let after: string | null = afterId ?? ''; after !== null;) {
      const path: string = `/broadcasts/${postingId}/comments?after=${after}`;
      const answer = await this.#questions.ask({ path, accessToken }, commentsSchema);
      if (!answer.ok) return answer;
      for (const { id, author, text: said, at } of answer.value.data)
        found.push({ id: String(id), author, text: said, atMs: at.getTime() });
      after = answer.value.next;
    }
    return succeed(found);
  }

  async #broadcast(question: Question): Answer<PostingThere> {
    const answer = await this.#questions.ask(question, broadcastSchema);
    return answer.ok ? succeed(postingOf(answer.value)) : answer;
  }
}

const fieldsOf = (wish: PostingWish): object => ({
  title: wish.title.slice(0, FACTS.titleLength),
  text: wish.text.slice(0, FACTS.textLength),
  starts_at: new Date(wish.startsAtMs).toISOString(),
  audience: wish.audience,
});

const postingOf = ({
  id,
  outlet,
  title,
  text: said,
  starts_at,
  state,
  ...there
}: Broadcast): PostingThere => ({
  id,
  outletId: outlet,
  state: STATES[state],
  endedBecause: there.ended_because,
  title,
  text: said,
  startsAtMs: starts_at.getTime(),
  audience: there.audience,
  link: there.link,
  ingestAddress: `${there.ingest.server}/${there.ingest.key}`,
});

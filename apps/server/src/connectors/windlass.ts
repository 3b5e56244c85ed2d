import Joi from 'joi';
import type { Audience, ConnectorFacts } from '@heliphon/core/connectors/connector-facts';
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
  name: 'Windlass',
  outletKinds: ['channel'],
  needsStart: true,
  endsWithoutPictureMs: 600_000,
  longestMs: null,
  isSecure: true,
  titleLength: 100,
  textLength: 5000,
  hasComments: false,
};

const REFUSALS: Readonly<Record<string, ConnectorRefusal>> = {
  'token-expired': { code: 'token-expired' },
  'channel-not-granted': { code: 'not-granted' },
  'no-such-film': { code: 'unknown' },
};
const faultSchema = Joi.object<{ fault: string }>({ fault: Joi.string().required() }).unknown();

const VISIBILITIES = { 'only-me': 'private', friends: 'unlisted', everyone: 'public' } as const;
type Visibility = (typeof VISIBILITIES)[Audience];
const AUDIENCE_OF: Readonly<Record<Visibility, Audience>> = {
  private: 'only-me',
  unlisted: 'friends',
  public: 'everyone',
};

const text = Joi.string().allow('').required();
const seconds = Joi.number().required();
const selfSchema = Joi.object<{ person: string; name: string; grantedUntil: number }>({
  person: text,
  name: text,
  grantedUntil: seconds,
});
const channelsSchema = Joi.object<{ channels: { channel: string; name: string }[]; pages: number }>({
  channels: Joi.array()
    .items(Joi.object({ channel: text, name: text }))
    .required(),
  pages: Joi.number().integer().required(),
});

interface Film {
  readonly film: string;
  readonly channel: string;
  readonly name: string;
  readonly about: string;
  readonly plannedFor: number;
  readonly visibility: Visibility;
  readonly phase: 'planned' | 'open' | 'over';
  readonly overBecause: PostingThere['endedBecause'];
  readonly watch: string;
  readonly intake: { readonly url: string; readonly streamKey: string };
}
const filmSchema = Joi.object<Film>({
  film: text,
  channel: text,
  name: text,
  about: text,
  plannedFor: seconds,
  visibility: Joi.valid('private', 'unlisted', 'public').required(),
  phase: Joi.valid('planned', 'open', 'over').required(),
  overBecause: Joi.valid('sender', 'no-picture', 'too-long', null).required(),
  watch: Joi.string().uri().required(),
  intake: Joi.object({ url: text, streamKey: text }).required(),
});
const filmsSchema = Joi.object<{ films: Film[] }>({ films: Joi.array().items(filmSchema).required() });
const audienceSchema = Joi.object<{ watching: number }>({ watching: Joi.number().integer().required() });

const PHASES = { planned: 'planned', open: 'open', over: 'ended' } as const;

/** The film site Windlass and its channels. */
export class WindlassConnector extends OAuthConnector implements Connector {
  readonly kind = 'windlass';
  readonly facts = FACTS;
  readonly #questions: Questions;

  constructor(settings: PlatformSettings, nowMs: () => number) {
    const paths = { consent: '/consent', token: '/oauth/token', revoke: '/oauth/revoke' };
    super(new Consent(settings, paths), nowMs);
    this.#questions = new Questions(`${settings.url}/api/2`, (_status, body) => {
      const { error, value } = faultSchema.validate(body);
      return error ? null : (REFUSALS[value.fault] ?? null);
    });
  }

  async account(accessToken: string): Answer<AccountThere> {
    const answer = await this.#questions.ask({ path: '/self', accessToken }, selfSchema);
    if (!answer.ok) return answer;
    const { person, name, grantedUntil } = answer.value;
    return succeed({ id: person, name, audience: null, consentEndsAtMs: grantedUntil * 1000 });
  }

  async outlets(accessToken: string): Answer<readonly OutletThere[]> {
    const found: OutletThere[] = [];
    for (let page = 1, pages = 1; page <= pages; page += 1) {
      const answer = await this.#questions.ask(
        { path: `/channels?page=${page}`, accessToken },
        channelsSchema,
      );
      if (!answer.ok) return answer;
      for (const { channel, name } of answer.value.channels)
        found.push({ id: channel, kind: 'channel', name, hasLetIn: true });
      pages = answer.value.pages;
    }
    return succeed(found);
  }

  post(accessToken: string, wish: PostingWish): Answer<PostingThere> {
    return this.#film({ method: 'POST', path: '/films', accessToken, body: bodyOf(wish) });
  }

  async find(
    accessToken: string,
    { outletId, ref }: Pick<PostingWish, 'outletId' | 'ref'>,
  ): Answer<PostingThere | null> {
    const path = `/films?clientRef=${encodeURIComponent(ref)}`;
    const answer = await this.#questions.ask({ path, accessToken }, filmsSchema);
    if (!answer.ok) return answer;
    const found = answer.value.films.find(({ channel }) => channel === outletId);
    return succeed(found ? postingOf(found) : null);
  }

  look(accessToken: string, postingId: string): Answer<PostingThere> {
    return this.#film({ path: `/films/${postingId}`, accessToken });
  }

  change(accessToken: string, postingId: string, wish: PostingWish): Answer<PostingThere> {
    return this.#film({ method: 'PUT', path: `/films/${postingId}`, accessToken, body: bodyOf(wish) });
  }

  picture(accessToken: string, postingId: string, jpeg: Uint8Array): Answer<null> {
    return this.#questions.tell({
      method: 'PUT',
      path: `/films/${postingId}/still`,
      accessToken,
      body: jpeg,
    });
  }

  takeDown(accessToken: string, postingId: string): Answer<null> {
    return this.#questions.tell({ method: 'DELETE', path: `/films/${postingId}`, accessToken });
  }

  begin(accessToken: string, postingId: string): Answer<PostingThere> {
    return this.#film({ method: 'POST', path: `/films/${postingId}/start`, accessToken });
  }

  end(accessToken: string, postingId: string): Answer<PostingThere> {
    return this.#film({ method: 'POST', path: `/films/${postingId}/finish`, accessToken });
  }

  async viewers(accessToken: string, postingId: string): Answer<number> {
    const path = `/films/${postingId}/audience`;
    const answer = await this.#questions.ask({ path, accessToken }, audienceSchema);
    return answer.ok ? succeed(answer.value.watching) : answer;
  }

  comments(): Answer<readonly CommentThere[]> {
    return Promise.resolve(succeed([]));
  }

  async #film(question: Question): Answer<PostingThere> {
    const answer = await this.#questions.ask(question, filmSchema);
    return answer.ok ? succeed(postingOf(answer.value)) : answer;
  }
}

const bodyOf = ({ outletId, ref, title, text: about, startsAtMs, audience }: PostingWish): object => ({
  channel: outletId,
  clientRef: ref,
  name: title.slice(0, FACTS.titleLength),
  about: about.slice(0, FACTS.textLength),
  plannedFor: Math.round(startsAtMs / 1000),
  visibility: VISIBILITIES[audience],
});

const postingOf = ({ film, channel, name, about, plannedFor, ...there }: Film): PostingThere => ({
  id: film,
  outletId: channel,
  state: PHASES[there.phase],
  endedBecause: there.overBecause,
  title: name,
  text: about,
  startsAtMs: plannedFor * 1000,
  audience: AUDIENCE_OF[there.visibility],
  link: there.watch,
  ingestAddress: `${there.intake.url}/${there.intake.streamKey}`,
});

import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Injectable, Logger } from '@nestjs/common';
import type { HappeningKind } from '@heliphon/contracts/happenings';
import { nextPostingStep, type PostingStep, type PostingText } from '@heliphon/core/connectors/posting-step';
import { parseRtmpAddress } from '@heliphon/core/destinations/rtmp-address';
import { refuse, type Result, succeed } from '@heliphon/core/result';
import { AccountTokens } from '../accounts/account-tokens.js';
import type { Connector, ConnectorRefusal, PostingThere, PostingWish } from '../connectors/connector.js';
import { Connectors } from '../connectors/connectors.js';
import { Posters } from '../files/posters.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { HAPPENED } from '../platform/happened.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { FanOut } from '../platform/shared/fan-out.js';
import { PostingEntity } from '../tables/posting.entity.js';
import { PostingSecrets } from './posting-secrets.js';
import { hurryPostings, openPostings, type PostingWanted, wantPostings } from './posting-wishes.js';

const EVERY_MS = 1000;
/** Longer than any step takes. */
const CLAIM_MS = 60_000;
/** How long what a platform has said of a posting counts as being so: while its event is on, and before. */
const FRESH_MS = 10_000;
const FRESH_AHEAD_MS = 30 * 60_000;
/** Made, changed, given its picture, begun, and looked at. */
const MOST_STEPS = 6;
const PAUSES_MS = [5000, 15_000, 60_000, 300_000] as const;

/** What a step has changed about a posting, or why it has changed nothing. */
type Taken = Result<Partial<PostingEntity>, ConnectorRefusal>;

/**
 * Makes every posting what it has to be: made ahead of time, kept in step with its event, begun and ended. Each account has
 * its own line, so that a platform that is slow holds up no other.
 */
@Injectable()
export class PostingKeeper extends RepeatedWork {
  readonly #log = new Logger('Postings');
  readonly #running = new Map<string, Promise<void>>();
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Postings wait';
  /** Accounts that have been linked again since. */
  readonly #linkedAgain = new Set<string>();
  /** Events at which something went wrong since. */
  readonly #inDoubt = new Set<string>();
  #isOver = false;
  #stopListening = (): void => undefined;

  constructor(
    private readonly database: Database,
    private readonly connectors: Connectors,
    private readonly tokens: AccountTokens,
    private readonly secrets: PostingSecrets,
    private readonly posters: Posters,
    private readonly clock: Clock,
    private readonly fanOut: FanOut,
  ) {
    super();
  }

  override start(): void {
    this.#stopListening = this.fanOut.listen(HAPPENED, ({ kind, subjectId }) => {
      if (kind === 'account-linked-again') this.#linkedAgain.add(subjectId);
      // Whatever is wrong with a place: the platform knows whether it has ended.
      if (kind === 'fault-began') this.#inDoubt.add(subjectId);
    });
    super.start();
  }

  override async onApplicationShutdown(): Promise<void> {
    this.#isOver = true;
    this.#stopListening();
    await super.onApplicationShutdown();
    await Promise.all(this.#running.values());
  }

  async work(): Promise<void> {
    const manager = this.database.installation;
    for (const accountId of this.#linkedAgain) {
      this.#linkedAgain.delete(accountId);
      await hurryPostings(manager, accountId, this.clock.nowMs());
    }
    for (const eventId of this.#inDoubt) {
      this.#inDoubt.delete(eventId);
      await manager.update(PostingEntity, { eventId, state: 'open' }, { seenAtMs: null });
    }
    await wantPostings(manager, this.clock.nowMs());
    const open = await openPostings(manager, this.clock.nowMs());
    for (const accountId of new Set(open.map(({ account }) => account.id))) {
      if (this.#running.has(accountId)) continue;
      const wanted = open.filter(({ account }) => account.id === accountId);
      const running = this.#line(wanted)
        .catch((error: unknown) => this.#log.warn(`Postings wait: ${String(error)}`))
        .finally(() => this.#running.delete(accountId));
      this.#running.set(accountId, running);
    }
  }

  async #line(wanted: readonly PostingWanted[]): Promise<void> {
    for (const one of wanted) {
      if (this.#isOver) return;
      await this.#follow(one);
    }
  }

  /** One step after another, as far as it goes now. */
  async #follow(one: PostingWanted): Promise<void> {
    const { posting, account, stage } = one;
    const connector = this.connectors.get(account.platform);
    if (!connector) return;
    for (let taken = 0; taken < MOST_STEPS && !this.#isOver; taken += 1) {
      const step = this.#nextStep(one, connector);
      if (step === null) {
        const isOver = stage === 'over' || stage === 'called-off';
        return isOver ? this.#keep(posting, { doneAtMs: this.clock.nowMs() }) : undefined;
      }
      if (!(await this.#claim(posting))) return;
      const answer = await this.#take(step, connector, one);
      if (!answer.ok) return this.#refused(posting, answer.error);
      await this.#took(step, posting, answer.value);
    }
  }

  #nextStep(
    { posting, stage, endedAtMs, text, isPaused, isTrial }: PostingWanted,
    { facts: { needsStart } }: Connector,
  ): PostingStep | null {
    const { part, isAskedAgain, endedBecause, state, told, idThere, seenAtMs } = posting;
    const freshMs = stage === 'ahead' ? FRESH_AHEAD_MS : FRESH_MS;
    const isFresh = (seenAtMs ?? 0) > Math.max(this.clock.nowMs() - freshMs, endedAtMs ?? 0);
    const known = idThere !== null && told ? { state: state!, endedBecause, told } : null;
    return nextPostingStep({
      stage,
      wanted: text,
      known,
      needsStart,
      isFresh,
      isAskedAgain,
      isPaused,
      isTrial,
      part,
    });
  }

  /** For the server that is first; another takes the step if this one falls. */
  async #claim({ id, nextTryAtMs }: PostingEntity): Promise<boolean> {
    const { affected } = await this.database.installation.update(
      PostingEntity,
      { id, nextTryAtMs },
      { nextTryAtMs: this.clock.nowMs() + CLAIM_MS },
    );
    return affected === 1;
  }

  #take(
    step: PostingStep,
    connector: Connector,
    { posting, account, outlet, text }: PostingWanted,
  ): Promise<Taken> {
    const { pictureId: _pictureId, ...said } = text;
    const wish: PostingWish = { ...said, outletId: outlet.idThere, ref: refOf(posting) };
    const id = posting.idThere ?? '';
    const told = (answer: Result<PostingThere, ConnectorRefusal>, words: PostingText): Taken =>
      this.#told(posting, connector, answer, words);
    // What was there stays as it is: people have seen it.
    if (step === 'again') return Promise.resolve(succeed(nextPart(posting)));
    return this.tokens.ask(account, async (token): Promise<Taken> => {
      switch (step) {
        case 'post':
          return told(await connector.post(token, wish), { ...text, pictureId: null });
        case 'change':
          return told(await connector.change(token, id, wish), {
            ...text,
            pictureId: posting.told?.pictureId ?? null,
          });
        case 'picture': {
          const path = join(this.posters.folder, text.pictureId!, '1280.jpg');
          const jpeg = await readFile(path).catch(() => null);
          const answer = jpeg && (await connector.picture(token, id, jpeg));
          return !answer || answer.ok ? succeed({ told: text }) : answer;
        }
        case 'begin':
          return told(await connector.begin(token, id), posting.told!);
        case 'look':
          return told(await connector.look(token, id), posting.told!);
        case 'end':
          return told(await connector.end(token, id), posting.told!);
        case 'take-down': {
          const answer = await connector.takeDown(token, id);
          return answer.ok ? succeed({ idThere: null, link: null, sealedIngest: null }) : answer;
        }
      }
    });
  }

  #told(
    posting: PostingEntity,
    { facts: { needsStart } }: Connector,
    answer: Result<PostingThere, ConnectorRefusal>,
    told: PostingText,
  ): Taken {
    if (!answer.ok) return answer;
    const { id, state, link, ingestAddress, endedBecause } = answer.value;
    const seen = { idThere: id, state, link, endedBecause, told, seenAtMs: this.clock.nowMs() };
    // Nothing is sent any more to one that has ended, nor yet to one that takes no picture before it was begun.
    if (state === 'ended') return succeed({ ...seen, sealedIngest: null, viewers: null });
    if (state === 'planned' && needsStart) return succeed({ ...seen, sealedIngest: null });
    const address = parseRtmpAddress(ingestAddress);
    if (!address.ok) return refuse({ code: 'not-understood', said: `address ${address.error.code}` });
    return succeed({ ...seen, sealedIngest: this.secrets.seal(posting, ingestAddress) });
  }

  async #took(step: PostingStep, posting: PostingEntity, change: Partial<PostingEntity>): Promise<void> {
    await this.#keep(posting, { ...change, trouble: null, attempts: 0, nextTryAtMs: this.clock.nowMs() });
    const kind = happeningOf(step, change);
    if (kind === null) return;
    const { houseId, eventId: subjectId, destinationId } = posting;
    const after = { destinationId, because: change.endedBecause ?? null };
    await this.database.transaction(systemContext(houseId, 'system'), (scope) =>
      scope.happened({ subjectKind: 'event', subjectId, kind, after }),
    );
  }

  async #refused(posting: PostingEntity, refusal: ConnectorRefusal): Promise<void> {
    const { code } = refusal;
    if (code === 'not-understood') this.#log.warn(`A platform was not understood: ${refusal.said}`);
    // If the posting has disappeared, it is made again, provided it is still wanted.
    const lost = code === 'unknown' ? { idThere: null, state: null, link: null, sealedIngest: null } : {};
    const attempts = posting.attempts + 1;
    const pauseMs =
      code === 'busy' ? refusal.retryAfterMs : PAUSES_MS[Math.min(attempts, PAUSES_MS.length) - 1]!;
    const nextTryAtMs = this.clock.nowMs() + (code === 'unknown' ? 0 : pauseMs);
    await this.#keep(posting, { ...lost, trouble: code, attempts, nextTryAtMs });
  }

  async #keep(posting: PostingEntity, change: Partial<PostingEntity>): Promise<void> {
    await this.database.installation.update(PostingEntity, { id: posting.id }, change);
    Object.assign(posting, change);
  }
}

/** Its own name over there; each that is made again has another. */
const refOf = ({ id, part }: PostingEntity): string => (part === 1 ? id : `${id}-${part}`);

/** The next posting of an event, where the one before has ended. */
const nextPart = ({ part }: PostingEntity): Partial<PostingEntity> => ({
  part: part + 1,
  isAskedAgain: false,
  idThere: null,
  state: null,
  endedBecause: null,
  link: null,
  sealedIngest: null,
  seenAtMs: null,
  viewers: null,
  commentsAfter: null,
});

/** What a step is told as; media nodes hear of addresses by it. */
function happeningOf(step: PostingStep, { state }: Partial<PostingEntity>): HappeningKind | null {
  if (step === 'post') return 'posting-made';
  if (step === 'begin') return 'posting-begun';
  if (step === 'take-down') return 'posting-taken-down';
  return state === 'ended' && step !== 'end' ? 'posting-ended' : null;
}

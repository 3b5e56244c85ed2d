import Joi from 'joi';
import { Injectable } from '@nestjs/common';
import { AUDIENCES } from '@heliphon/core/connectors/connector-facts';
import { NO_WORDS, type PostingWords } from '@heliphon/core/connectors/posting-words';
import type { OutletWordsView } from '@heliphon/contracts/postings';
import { outletPlaces } from '../accounts/outlet-places.js';
import { Connectors } from '../connectors/connectors.js';
import { FilesService } from '../files/files.service.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { having, idKey, payload, textKey } from '../platform/happening-payloads.js';
import { newId } from '../platform/ids.js';
import { notFound } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { PostingWordsEntity } from '../tables/posting-words.entity.js';
import { SeriesDestinationEntity, SeriesEntity } from '../tables/series.entity.js';
import { outletWordsView, plainWords } from './outlet-words-view.js';

/** Whose words they are. */
export interface WordsOwner {
  readonly kind: 'event' | 'series';
  readonly id: string;
}

interface Changed extends PostingWords {
  readonly destinationId: string;
}
const CHANGED = payload(
  having<Changed>({
    destinationId: idKey.required(),
    title: textKey.allow(null).required(),
    text: textKey.allow(null).required(),
    pictureId: idKey.allow(null).required(),
    audience: Joi.valid(...AUDIENCES, null).required(),
  }),
);

/** What an event or a series says at its outlets, where that is something else than everywhere. */
@Injectable()
export class PostingWordsService {
  constructor(
    private readonly database: Database,
    private readonly connectors: Connectors,
    private readonly files: FilesService,
    undo: UndoRegistry,
  ) {
    undo.register(
      'posting-words-changed',
      'events.edit',
      CHANGED,
      (scope, { subjectKind, subjectId, before }) =>
        keep(scope, { kind: subjectKind === 'series' ? 'series' : 'event', id: subjectId }, before),
    );
  }

  async ofSeries(ctx: Context, seriesId: string): Promise<readonly OutletWordsView[]> {
    return this.database.snapshotOf(ctx, async (scope) => {
      await scope.get(SeriesEntity, seriesId, 'series');
      const links = await scope.find(SeriesDestinationEntity, { where: { seriesId } });
      const own = await scope.find(PostingWordsEntity, { where: { seriesId } });
      const places = await outletPlaces(
        scope,
        links.map(({ destinationId }) => destinationId),
      );
      return places.map((outlet) =>
        outletWordsView(
          outlet,
          own.find(({ destinationId }) => destinationId === outlet.place.id),
          this.connectors,
        ),
      );
    });
  }

  /** @throws ProblemError 404 where the event or series does not go there, 422 where the picture is none */
  async change(ctx: Context, owner: WordsOwner, destinationId: string, words: PostingWords): Promise<void> {
    await this.#checkLink(this.database.house(ctx), owner, destinationId);
    const pictureId = words.pictureId && (await this.files.asPoster(ctx, words.pictureId));
    await this.database.transaction(ctx, async (scope) => {
      await this.#checkLink(scope, owner, destinationId);
      const after: Changed = { ...words, pictureId, destinationId };
      const before: Changed = { ...(await keep(scope, owner, after)), destinationId };
      await scope.happened({
        subjectKind: owner.kind,
        subjectId: owner.id,
        kind: 'posting-words-changed',
        before,
        after,
      });
    });
  }

  async #checkLink(scope: HouseScope, { kind, id }: WordsOwner, destinationId: string): Promise<void> {
    if (kind === 'event') await scope.get(EventEntity, id, 'event');
    else await scope.get(SeriesEntity, id, 'series');
    const link =
      kind === 'event'
        ? await scope.findOne(EventDestinationEntity, { eventId: id, destinationId })
        : await scope.findOne(SeriesDestinationEntity, { seriesId: id, destinationId });
    const [outlet] = link ? await outletPlaces(scope, [destinationId]) : [];
    if (!outlet) throw notFound('destination');
  }
}

/** @returns what was said before */
async function keep(
  scope: HouseScope,
  { kind, id }: WordsOwner,
  { destinationId, ...words }: Changed,
): Promise<PostingWords> {
  const where = kind === 'event' ? { eventId: id, destinationId } : { seriesId: id, destinationId };
  const known = await scope.findOne(PostingWordsEntity, where);
  const before = known ? plainWords(known) : NO_WORDS;
  const isNothing = Object.values(plainWords(words)).every((value) => value === null);
  if (known && isNothing) await scope.remove(PostingWordsEntity, { id: known.id });
  else if (known) await scope.save(Object.assign(known, plainWords(words)));
  else if (!isNothing) await scope.add(PostingWordsEntity, { id: newId(), ...where, ...plainWords(words) });
  return before;
}

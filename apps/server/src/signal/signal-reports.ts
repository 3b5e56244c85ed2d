import { Injectable } from '@nestjs/common';
import { In, LessThan, Not } from 'typeorm';
import type { Observation } from '@heliphon/core/control/observations';
import { spansFrom } from '@heliphon/core/audience/viewers-have';
import { withoutEndings } from '@heliphon/core/connectors/platform-endings';
import type { Fault } from '@heliphon/core/faults/fault';
import { PICTURE_SIZES } from '@heliphon/core/ladder/picture-sizes';
import { repeatedIn, reportOf, type SignalReport } from '@heliphon/core/signal/signal-report';
import { thinned } from '@heliphon/core/signal/signal-sample';
import type { ReportBefore, SignalReportView } from '@heliphon/contracts/signal';
import { outletPlaces } from '../accounts/outlet-places.js';
import { Connectors } from '../connectors/connectors.js';
import { LiveFigures } from '../live/live-figures.js';
import { viewersHadOf } from '../live/viewers-had.js';
import { Database, type HouseScope } from '../platform/database.js';
import { ProblemError } from '../platform/problems.js';
import { EventEntity } from '../tables/event.entity.js';
import { SourceEntity } from '../tables/source.entity.js';
import { notesOf } from '../notes/notes-of.js';
import { namesById } from './fault-names.js';
import { faultsOf } from './fault-rows.js';
import { platformEndings, watchedAt } from './watched-at.js';

/** Averages need no seconds. */
const EVERY_MS = 60_000;
const COMPARED_WITH = 4;

/** How the signal of an event was, once it is over. */
@Injectable()
export class SignalReports {
  constructor(
    private readonly database: Database,
    private readonly figures: LiveFigures,
    private readonly connectors: Connectors,
  ) {}

  /** No edit of the event: its version stays. What is told again without it takes nothing away. */
  async rememberLoudness({
    programmeId,
    loudness,
  }: Extract<Observation, { kind: 'recording-kept' }>): Promise<void> {
    if (!loudness) return;
    await this.database.installation.query('UPDATE events SET loudness = ? WHERE programme_id = ?', [
      JSON.stringify(loudness),
      programmeId,
    ]);
  }

  /** @throws ProblemError 409 while it is not over. */
  async of(scope: HouseScope, id: string): Promise<SignalReportView> {
    const event = await scope.get(EventEntity, id, 'event');
    const { airAtMs, endAtMs, title } = event;
    if (event.state !== 'kept' || airAtMs === null || endAtMs === null)
      throw new ProblemError(409, 'not-over', {});
    const had = spansFrom(await viewersHadOf(scope, event, endAtMs), airAtMs);
    const report = await this.#reportOf(scope, event, { airAtMs, endAtMs });
    const watched = await watchedAt(scope, id, endAtMs - airAtMs);
    const endings = await this.#endings(scope, id);
    const before = await this.#before(scope, event);
    const repeated = repeatedIn([report.faults, ...before.map(({ faults }) => faults)]);
    const about = [
      ...[...report.faults, ...repeated].map(({ subjectId }) => subjectId),
      ...watched.flatMap(({ kind, name }) => (kind === 'place' ? [name] : [])),
      ...endings.map(({ destinationId }) => destinationId),
    ];
    return {
      title,
      airAtMs,
      endAtMs,
      report,
      viewersHad: had,
      watchedAt: watched,
      endings,
      notes: await notesOf(scope, id),
      names: await namesById(scope, about),
      before: before.map(({ view }) => view),
      repeated,
    };
  }

  async #reportOf(
    scope: HouseScope,
    event: EventEntity,
    { airAtMs, endAtMs }: { readonly airAtMs: number; readonly endAtMs: number },
  ): Promise<SignalReport> {
    const [had, faults, endings, samples, source] = await Promise.all([
      viewersHadOf(scope, event, endAtMs),
      faultsOf(scope, event.id),
      platformEndings(scope, event.id),
      this.figures.history.of(event, airAtMs, endAtMs),
      event.sourceId ? scope.findOne(SourceEntity, { id: event.sourceId }) : null,
    ]);
    return reportOf({
      airAtMs,
      endAtMs,
      viewersHad: spansFrom(had, airAtMs),
      faults: withoutEndings(faults, endings),
      samples: thinned(samples, EVERY_MS),
      advised: PICTURE_SIZES.find(({ name }) => name === source?.adviceSize) ?? null,
      loudness: event.loudness,
    });
  }

  async #endings(scope: HouseScope, eventId: string): Promise<SignalReportView['endings']> {
    const endings = await platformEndings(scope, eventId);
    const outlets = await outletPlaces(
      scope,
      endings.map(({ destinationId }) => destinationId),
    );
    return endings.map((ending) => {
      const found = outlets.find(({ place }) => place.id === ending.destinationId);
      const facts = found && this.connectors.get(found.account.platform)?.facts;
      return { ...ending, platform: facts?.name ?? null, longestMs: facts?.longestMs ?? null };
    });
  }

  async #before(
    scope: HouseScope,
    { id, seriesId, startsAtMs }: EventEntity,
  ): Promise<{ view: ReportBefore; faults: readonly Fault[] }[]> {
    if (!seriesId) return [];
    const events = await scope.find(EventEntity, {
      where: { seriesId, state: 'kept', id: Not(In([id])), startsAtMs: LessThan(startsAtMs) },
      order: { startsAtMs: 'DESC' },
      take: COMPARED_WITH - 1,
    });
    return Promise.all(
      events.map(async (event) => {
        const airAtMs = event.airAtMs ?? event.startsAtMs;
        const report = await this.#reportOf(scope, event, { airAtMs, endAtMs: event.endAtMs ?? airAtMs });
        const view = {
          eventId: event.id,
          airAtMs,
          cleanShare: report.cleanShare,
          faults: report.faults.length,
        };
        return { view, faults: report.faults };
      }),
    );
  }
}

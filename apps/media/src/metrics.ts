import { collectDefaultMetrics, Gauge, Registry } from 'prom-client';
import type { Figures } from '@heliphon/core/control/observations';
import type { ChildFacts } from './processes/child-processes.js';

interface NodeFacts {
  readonly figures: Figures;
  readonly children: readonly ChildFacts[];
  readonly srtListeners: number;
  readonly relays: number;
  readonly joinsWaiting: number;
  readonly journalWaiting: number;
  readonly requestsAnswered: number;
}

/** Every ten milliseconds, as is usual, costs an idle node more than all the rest. */
const LOOKS_AT_LOOP_EVERY_MS = 200;

/** What `/metrics` of the node says, in Prometheus' text form: read from the figures when it is asked for. */
export class NodeMetrics {
  readonly #registry = new Registry();
  readonly #gauges = {
    sources: this.#gauge('heliphon_media_sources', 'Encoders connected'),
    programmes: this.#gauge('heliphon_media_programmes', 'Programmes by state', ['state']),
    viewers: this.#gauge('heliphon_media_viewers', 'Viewers in the last 15 s, all programmes'),
    destinations: this.#gauge('heliphon_media_destinations', 'Ways to places by state', ['state']),
    diskFreeBytes: this.#gauge('heliphon_media_disk_free_bytes', 'Room left to record'),
    recordingStopped: this.#gauge(
      'heliphon_media_recording_stopped',
      'Programmes that are not being recorded',
    ),
    sourceBitrate: this.#gauge('heliphon_media_source_bitrate_bps', 'Bit rate of a source', ['source']),
    children: this.#gauge('heliphon_media_processes', 'Processes of the node by purpose', ['purpose']),
    childSeconds: this.#gauge(
      'heliphon_media_processes_cpu_seconds',
      'Processor time of the processes that run now',
      ['purpose'],
    ),
    srtListeners: this.#gauge('heliphon_media_srt_listeners', 'Sources that can be reached over SRT'),
    relays: this.#gauge('heliphon_media_relays', 'Sources that show a programme of this node'),
    joinsWaiting: this.#gauge('heliphon_media_joins_waiting', 'Recordings that lack a part of another node'),
    requests: this.#gauge('heliphon_media_requests_answered', 'Requests for playback since the start'),
    journalWaiting: this.#gauge(
      'heliphon_media_journal_waiting',
      'Observations that the server has not stored',
    ),
  };

  constructor() {
    collectDefaultMetrics({ register: this.#registry, eventLoopMonitoringPrecision: LOOKS_AT_LOOP_EVERY_MS });
  }

  async render({ figures, children, journalWaiting, requestsAnswered, ...kept }: NodeFacts): Promise<string> {
    const { sources, programmes } = figures;
    const gauges = this.#gauges;
    for (const gauge of Object.values(gauges)) gauge.reset();
    gauges.sources.set(sources.length);
    gauges.diskFreeBytes.set(figures.diskFreeBytes);
    gauges.journalWaiting.set(journalWaiting);
    gauges.requests.set(requestsAnswered);
    gauges.srtListeners.set(kept.srtListeners);
    gauges.relays.set(kept.relays);
    gauges.joinsWaiting.set(kept.joinsWaiting);
    gauges.viewers.set(programmes.reduce((sum, programme) => sum + programme.viewers, 0));
    gauges.recordingStopped.set(programmes.filter(({ recordingStopped }) => recordingStopped).length);
    for (const { state, destinations } of programmes) {
      gauges.programmes.inc({ state });
      for (const destination of destinations) gauges.destinations.inc({ state: destination.state.state });
    }
    for (const { sourceId, report } of sources)
      gauges.sourceBitrate.set(
        { source: sourceId },
        (report.video?.bitrateBps ?? 0) + (report.audio?.bitrateBps ?? 0),
      );
    for (const { purpose, running, processorSeconds } of children) {
      gauges.children.set({ purpose }, running);
      gauges.childSeconds.set({ purpose }, processorSeconds);
    }
    return this.#registry.metrics();
  }

  #gauge<L extends string>(name: string, help: string, labelNames: readonly L[] = []): Gauge<L> {
    return new Gauge({ name, help, labelNames: [...labelNames], registers: [this.#registry] });
  }
}

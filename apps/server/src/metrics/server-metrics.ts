import { Injectable } from '@nestjs/common';
import type { NextFunction, Request, Response } from 'express';
import { IsNull, Not } from 'typeorm';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import { EventEntity } from '../tables/event.entity.js';
import { LiveFigures } from '../live/live-figures.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Database } from '../platform/database.js';
import { LetterEntity } from '../platform/entities.js';

/** Figures of the server for anyone who watches over the installation. */
@Injectable()
export class ServerMetrics {
  readonly #registry = new Registry();
  readonly #requests = new Histogram({
    name: 'heliphon_http_request_seconds',
    help: 'How long requests took',
    labelNames: ['method', 'route', 'status'],
    buckets: [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5],
    registers: [this.#registry],
  });
  readonly #nodeIsHere = this.#gauge('heliphon_media_node_here', '1 while a media node reports', ['node']);
  readonly #onAir = this.#gauge('heliphon_events_on_air', 'Events on air');
  readonly #letters = this.#gauge('heliphon_letters_waiting', 'Letters not sent yet');

  constructor(
    private readonly database: Database,
    private readonly figures: LiveFigures,
    private readonly nodes: MediaNodes,
  ) {
    collectDefaultMetrics({ register: this.#registry });
  }

  /** Express middleware that measures every request by its route, never by its whole path. */
  readonly measure = (request: Request, response: Response, next: NextFunction): void => {
    const stop = this.#requests.startTimer({ method: request.method });
    response.once('finish', () => {
      const route = (request.route as { path?: unknown } | undefined)?.path;
      stop({ route: typeof route === 'string' ? route : 'page', status: String(response.statusCode) });
    });
    next();
  };

  async render(): Promise<string> {
    const manager = this.database.installation;
    for (const node of this.nodes.ids) this.#nodeIsHere.set({ node }, this.figures.isHere(node) ? 1 : 0);
    this.#onAir.set(await manager.countBy(EventEntity, { state: 'air' }));
    this.#letters.set(await manager.countBy(LetterEntity, { nextTryAtMs: Not(IsNull()) }));
    return this.#registry.metrics();
  }

  #gauge(name: string, help: string, labelNames: string[] = []): Gauge {
    return new Gauge({ name, help, labelNames, registers: [this.#registry] });
  }
}

import { Controller, Get, Header } from '@nestjs/common';
import { Needs } from '../platform/need.js';
import { ServerMetrics } from './server-metrics.js';

@Controller('metrics')
export class MetricsController {
  constructor(private readonly metrics: ServerMetrics) {}

  /** Prometheus' text form. Counts and times only; `deploy/nginx.conf` keeps it inside. */
  @Get()
  @Needs('public')
  @Header('Content-Type', 'text/plain; version=0.0.4; charset=utf-8')
  @Header('Cache-Control', 'no-store')
  render(): Promise<string> {
    return this.metrics.render();
  }
}

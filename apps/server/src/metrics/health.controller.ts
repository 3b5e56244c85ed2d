import { Controller, Get, Inject, Post } from '@nestjs/common';
import Joi from 'joi';
import { LiveFigures } from '../live/live-figures.js';
import { ControlGateway } from '../media-link/control-gateway.js';
import { Needs } from '../platform/need.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Checked } from '../platform/joi-pipe.js';
import { notFound } from '../platform/problems.js';

const testClockSchema = Joi.object<{ offsetMs: number }, true>({
  offsetMs: Joi.number().integer().required(),
});

@Controller('api')
export class HealthController {
  constructor(
    private readonly figures: LiveFigures,
    private readonly clock: Clock,
    private readonly control: ControlGateway,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  /** Says whether the media node is there. While the database is away, `AccessGuard` answers 503 before, at once. */
  @Get('health')
  @Needs('public')
  health(): { ok: true; mediaNode: 'here' | 'away'; serverNowMs: number } {
    return {
      ok: true,
      mediaNode: this.figures.nodeIsHere ? 'here' : 'away',
      serverNowMs: this.clock.nowMs(),
    };
  }

  /** Sets the clock forward or back; there only where the installation was started for tests. */
  @Post('test/clock')
  @Needs('public')
  setClock(@Checked(testClockSchema) { offsetMs }: { offsetMs: number }): { serverNowMs: number } {
    if (!this.config.testClock) throw notFound('route');
    this.clock.setOffset(offsetMs);
    this.control.sendSoon();
    return { serverNowMs: this.clock.nowMs() };
  }
}

import { Module } from '@nestjs/common';
import { EventsModule } from '../events/events.module.js';
import { SeriesModule } from '../series/series.module.js';
import { CalendarImportService } from './calendar-import.service.js';
import { CalendarsController } from './calendars.controller.js';
import { CalendarsService } from './calendars.service.js';
import { HouseCalendarController } from './house-calendar.controller.js';

/** Calendar files and addresses, and calendars of others that are taken in. */
@Module({
  imports: [EventsModule, SeriesModule],
  controllers: [CalendarsController, HouseCalendarController],
  providers: [CalendarImportService, CalendarsService],
  exports: [CalendarsService],
})
export class CalendarsModule {}

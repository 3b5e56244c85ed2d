import type { EventSettings } from '@heliphon/core/schedule/event-settings';
import { Count, Decimal, Flag, Text } from '../platform/columns.js';

/** The columns of the settings that an event and a series both have (`core/schedule/event-settings`). */
export abstract class SettingColumns implements EventSettings {
  @Flag() chatOpen: boolean;
  @Count() doorsMinutes: number;
  @Count() overrunMinutes: number;
  @Count() deadAirMinutes: number;
  @Count() rewindMinutes: number;
  @Decimal(3, 1) slateAfterSeconds: number;
  @Decimal(3, 1) standbyAfterSeconds: number;
  @Text(40) renditions: string;
  @Flag() keepsRenditions: boolean;
}

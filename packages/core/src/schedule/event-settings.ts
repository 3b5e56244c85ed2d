import type { RenditionSetting } from '../ladder/rendition-setting.js';

/** Until when a setting may be changed: as long as the event is planned, until it is over, or whenever. */
type Until = 'doors' | 'end' | 'always';

interface FlagSetting {
  readonly kind: 'flag';
  readonly usual: boolean;
  readonly until: Until;
}
interface NumberSetting {
  readonly kind: 'number';
  readonly usual: number;
  readonly least: number;
  readonly most: number;
  /** It is a whole number of these. */
  readonly step: number;
  readonly until: Until;
}

interface SizesSetting {
  readonly kind: 'sizes';
  readonly usual: RenditionSetting;
  readonly until: Until;
}

/** The settings of one event or series. */
export interface EventSettings {
  readonly chatOpen: boolean;
  /** The doors open so long before the start. */
  readonly doorsMinutes: number;
  /** So long it may go on after its planned end. */
  readonly overrunMinutes: number;
  /** Without a picture for so long it ends by itself. */
  readonly deadAirMinutes: number;
  /** So far viewers may go back while it is on air. */
  readonly rewindMinutes: number;
  /** Without a picture for so long viewers see the slate. */
  readonly slateAfterSeconds: number;
  /** How long without a picture before the second source, if there is one, takes over; 0: only by hand. */
  readonly standbyAfterSeconds: number;
  /** Which smaller pictures are made of it. */
  readonly renditions: RenditionSetting;
  /** They are kept for the replay. */
  readonly keepsRenditions: boolean;
}
export type SettingName = keyof EventSettings;
type FlagName = { [N in SettingName]: EventSettings[N] extends boolean ? N : never }[SettingName];
type NumberName = { [N in SettingName]: EventSettings[N] extends number ? N : never }[SettingName];

const minutes = (usual: number, least: number, most: number, until: Until): NumberSetting => ({
  kind: 'number',
  usual,
  least,
  most,
  step: 1,
  until,
});

/**
 * What may be set of an event, each in one place: what it usually is, what it may be, and until when it may be changed.
 * Contract and checks, series and their dates, undo, autosave and history all follow from this table.
 */
export const EVENT_SETTINGS: {
  readonly [N in SettingName]: EventSettings[N] extends boolean
    ? FlagSetting
    : EventSettings[N] extends number
      ? NumberSetting
      : SizesSetting;
} = {
  chatOpen: { kind: 'flag', usual: true, until: 'always' },
  doorsMinutes: minutes(15, 0, 240, 'doors'),
  overrunMinutes: minutes(30, 0, 480, 'end'),
  deadAirMinutes: minutes(10, 1, 120, 'end'),
  rewindMinutes: minutes(10, 0, 1440, 'end'),
  slateAfterSeconds: { kind: 'number', usual: 1.5, least: 0.5, most: 10, step: 0.5, until: 'end' },
  standbyAfterSeconds: { kind: 'number', usual: 1, least: 0, most: 60, step: 0.5, until: 'end' },
  renditions: { kind: 'sizes', usual: 'off', until: 'end' },
  keepsRenditions: { kind: 'flag', usual: true, until: 'end' },
};

export const SETTING_NAMES = Object.keys(EVENT_SETTINGS) as readonly SettingName[];
export const isSetting = (name: string): name is SettingName => name in EVENT_SETTINGS;
export const isNumber = (name: SettingName): name is NumberName => EVENT_SETTINGS[name].kind === 'number';
export const isFlag = (name: SettingName): name is FlagName => EVENT_SETTINGS[name].kind === 'flag';

/** What an event has unless its people say otherwise. */
export const USUAL_SETTINGS = Object.fromEntries(
  SETTING_NAMES.map((name) => [name, EVENT_SETTINGS[name].usual]),
) as never as EventSettings;

/** The settings among other things. */
export const pickSettings = (from: EventSettings): EventSettings =>
  Object.fromEntries(SETTING_NAMES.map((name) => [name, from[name]])) as never as EventSettings;

/** Those that may still be changed then. */
export const settingsUntil = (...until: readonly Until[]): readonly SettingName[] =>
  SETTING_NAMES.filter((name) => until.includes(EVENT_SETTINGS[name].until));

import { heightsIn, type RenditionSetting } from '@heliphon/core/ladder/rendition-setting';
import { renditionName } from '@heliphon/core/ladder/renditions';
import type { SettingName } from '@heliphon/core/schedule/event-settings';

interface SettingWords {
  /** In a form. */
  readonly label: string;
  /** By itself. */
  readonly name: string;
  /** Among what one date of a series changed. */
  readonly ofDate: string;
  /** In the record of what was changed. */
  readonly inRecord: string;
  /** Beside which others it stands in a form. */
  readonly beside: 'times' | 'viewers' | 'sources' | 'sizes';
}

/** What the settings of an event are called. en-GB. */
export const SETTING_WORDS: Readonly<Record<SettingName, SettingWords>> = {
  chatOpen: {
    label: 'People may chat',
    name: 'Chat',
    ofDate: 'the chat',
    inRecord: 'chat',
    beside: 'viewers',
  },
  doorsMinutes: {
    label: 'Doors, min',
    name: 'Doors',
    ofDate: 'the doors',
    inRecord: 'doors, minutes before',
    beside: 'times',
  },
  overrunMinutes: {
    label: 'Run over, min',
    name: 'Run over',
    ofDate: 'the time to run over',
    inRecord: 'may run over, minutes',
    beside: 'times',
  },
  deadAirMinutes: {
    label: 'Dead air, min',
    name: 'Dead air',
    ofDate: 'the dead-air limit',
    inRecord: 'ends without a picture after, minutes',
    beside: 'times',
  },
  rewindMinutes: {
    label: 'Rewind, min',
    name: 'Rewind',
    ofDate: 'how far viewers may go back',
    inRecord: 'rewind, minutes',
    beside: 'viewers',
  },
  standbyAfterSeconds: {
    label: 'Takes over after, s',
    name: 'Second source',
    ofDate: 'when the second source takes over',
    inRecord: 'second source takes over after, seconds',
    beside: 'sources',
  },
  slateAfterSeconds: {
    label: 'Slate after, s',
    name: 'Slate',
    ofDate: 'when the slate comes',
    inRecord: 'slate after, seconds',
    beside: 'viewers',
  },
  renditions: {
    label: 'Smaller pictures',
    name: 'Smaller pictures',
    ofDate: 'the smaller pictures',
    inRecord: 'smaller pictures',
    beside: 'viewers',
  },
  keepsRenditions: {
    label: 'Keep smaller pictures for the replay',
    name: 'Smaller pictures kept',
    ofDate: 'whether smaller pictures are kept',
    inRecord: 'smaller pictures kept',
    beside: 'sizes',
  },
};

/** Smaller pictures, for viewers on a weak line. */
export const SIZES_TEXT = {
  off: 'None',
  auto: 'As many as fit',
  chosen: 'These sizes',
  help: 'For viewers on a weak line. They cost the server processor time; your own picture is never touched.',
} as const;

/** A setting of smaller pictures as it reads in a sentence: `720, 480`. */
export const sizesInWords = (setting: RenditionSetting): string =>
  setting === 'off' || setting === 'auto'
    ? SIZES_TEXT[setting].toLowerCase()
    : heightsIn(setting).map(renditionName).join(', ');

/** One wording of every setting. */
export const settingWords = (of: keyof SettingWords): Readonly<Record<SettingName, string>> =>
  Object.fromEntries(Object.entries(SETTING_WORDS).map(([name, words]) => [name, words[of]])) as Record<
    SettingName,
    string
  >;

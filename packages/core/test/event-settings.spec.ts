import { describe, expect, test } from '@jest/globals';
import {
  EVENT_SETTINGS,
  pickSettings,
  SETTING_NAMES,
  settingsUntil,
  USUAL_SETTINGS,
} from '../src/schedule/event-settings.js';
import { SERIES_FIELDS } from '../src/schedule/series-plan.js';

describe('the settings of an event', () => {
  test('are usually what they may be', () => {
    for (const name of SETTING_NAMES) {
      const setting = EVENT_SETTINGS[name];
      if (setting.kind !== 'number') continue;
      expect(setting.usual).toBeGreaterThanOrEqual(setting.least);
      expect(setting.usual).toBeLessThanOrEqual(setting.most);
      expect(setting.usual % setting.step).toBe(0);
    }
    expect(USUAL_SETTINGS).toMatchObject({ chatOpen: true, doorsMinutes: 15, rewindMinutes: 10 });
  });

  test('are taken from an event without anything else of it', () => {
    const event = { ...USUAL_SETTINGS, rewindMinutes: 90, title: 'Evensong' };
    expect(pickSettings(event)).toEqual({ ...USUAL_SETTINGS, rewindMinutes: 90 });
  });

  test('may each be changed until some time, and are each carried by a series', () => {
    expect(settingsUntil('doors', 'end', 'always')).toEqual(SETTING_NAMES);
    expect(settingsUntil('always')).toEqual(['chatOpen']);
    expect(SERIES_FIELDS).toEqual(expect.arrayContaining([...SETTING_NAMES]));
  });
});

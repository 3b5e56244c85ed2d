import { type BoxInput, type BoxReport, boxWorries } from '@heliphon/core/pairing/device-grant';

const INPUT_WORDS: Readonly<Record<BoxInput, string>> = {
  'picture-and-sound': 'picture and sound plugged in',
  picture: 'picture plugged in, no sound',
  sound: 'sound plugged in, no picture',
  nothing: 'nothing plugged in',
};

const WORRY_WORDS = {
  hot: 'It is getting hot. Give it air.',
  'battery-low': 'Its battery is nearly empty. Plug it in.',
  'nothing-plugged-in': 'Neither picture nor sound is plugged in.',
} as const;

/** `sending, picture and sound plugged in, battery 87 %, 48 °C`. */
export function boxWords({ isSending, input, batteryPercent, temperatureC }: BoxReport): string {
  return [
    isSending ? 'sending' : 'ready',
    INPUT_WORDS[input],
    batteryPercent === null ? 'on the mains' : `battery ${batteryPercent} %`,
    ...(temperatureC === null ? [] : [`${temperatureC} °C`]),
  ].join(', ');
}

/** What is worth a look; `null` while nothing is. */
export function worryWords(report: BoxReport): string | null {
  const worries = boxWorries(report);
  return worries.length > 0 ? worries.map((worry) => WORRY_WORDS[worry]).join(' ') : null;
}

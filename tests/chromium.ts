/**
 * Debian's Chromium without a window of its own, quiet: it starts four times as fast as the whole browser. Never the
 * autoplay flag: journeys click "Turn the sound on", as people do.
 */
export const CHROMIUM = {
  executablePath: '/usr/bin/chromium-headless-shell',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};

/** With a camera and a microphone that show and say something, and are always allowed. */
export const CHROMIUM_WITH_CAMERA = {
  ...CHROMIUM,
  args: [...CHROMIUM.args, '--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'],
};

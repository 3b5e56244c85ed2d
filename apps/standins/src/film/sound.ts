const RATE_HZ = 48_000;
const TURN = 2 * Math.PI;

/** A slow progression for the organ, as frequencies in hertz; six seconds each. */
const CHORDS = [
  [130.81, 196.0, 261.63, 329.63],
  [110.0, 164.81, 261.63, 329.63],
  [87.31, 174.61, 220.0, 349.23],
  [98.0, 146.83, 246.94, 392.0],
  [130.81, 164.81, 196.0, 523.25],
];
const CHORD_SECONDS = 6;
/** Partials of a bell over its strike note (hum, prime, tierce, quint, nominal) with their loudness. */
const BELL_PARTIALS = [
  [0.5, 0.5],
  [1, 0.8],
  [1.2, 0.6],
  [1.5, 0.3],
  [2, 0.5],
] as const;
const BELLS_HZ = [523.25, 587.33, 659.25, 698.46, 783.99];
const BELL_EVERY_SECONDS = 4;

/** Bells over an organ, as interleaved 16-bit stereo at 48 kHz; around −23 LUFS. */
export function renderSound(seconds: number): Buffer {
  const sound = Buffer.alloc(seconds * RATE_HZ * 4);
  for (let index = 0; index < seconds * RATE_HZ; index += 1) {
    const atSeconds = index / RATE_HZ;
    const organ = organAt(atSeconds);
    const bell = bellAt(atSeconds);
    const left = organ + bell * 0.8;
    const right = organ + bell * 0.55;
    sound.writeInt16LE(Math.round(left * 32_000), index * 4);
    sound.writeInt16LE(Math.round(right * 32_000), index * 4 + 2);
  }
  return sound;
}

function organAt(atSeconds: number): number {
  const chord = CHORDS[Math.floor(atSeconds / CHORD_SECONDS) % CHORDS.length]!;
  const within = atSeconds % CHORD_SECONDS;
  const swell = Math.min(1, within / 0.4, (CHORD_SECONDS - within) / 0.4);
  let sum = 0;
  for (const hz of chord)
    for (let pipe = 1; pipe <= 3; pipe += 1) sum += Math.sin(TURN * hz * pipe * atSeconds) / (pipe * pipe);
  return sum * 0.03 * swell;
}

function bellAt(atSeconds: number): number {
  const stroke = Math.floor(atSeconds / BELL_EVERY_SECONDS);
  const since = atSeconds - stroke * BELL_EVERY_SECONDS;
  const strike = BELLS_HZ[stroke % BELLS_HZ.length]!;
  const attack = Math.min(1, since / 0.004);
  return (
    BELL_PARTIALS.reduce(
      (sum, [ratio, loudness]) =>
        sum + loudness * Math.sin(TURN * strike * ratio * since) * Math.exp(-since * (0.6 + ratio)),
      0,
    ) *
    0.07 *
    attack
  );
}

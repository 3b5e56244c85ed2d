/** Below it lies what rooms and organs hum; above it speech begins. */
const RUMBLE_HZ = 110;
/** Where consonants are told apart. */
const PRESENCE = { frequencyHz: 2800, q: 0.8, gainDb: 6 } as const;
/** Loud music comes down to where speech is. */
const COMPRESSION = { thresholdDb: -32, kneeDb: 12, ratio: 5, attackSeconds: 0.004, releaseSeconds: 0.25 };

/** Makes speech clearer and music quieter, in the browser (W3C Web Audio API). Off it changes nothing. */
export class ClearSpeech {
  readonly #context = new AudioContext();
  readonly #source: MediaElementAudioSourceNode;
  readonly #first: AudioNode;

  /** @param video - its sound goes through here from now on, on or off */
  constructor(video: HTMLVideoElement) {
    const { destination } = this.#context;
    this.#source = this.#context.createMediaElementSource(video);
    const rumble = new BiquadFilterNode(this.#context, { type: 'highpass', frequency: RUMBLE_HZ });
    const presence = new BiquadFilterNode(this.#context, {
      type: 'peaking',
      frequency: PRESENCE.frequencyHz,
      Q: PRESENCE.q,
      gain: PRESENCE.gainDb,
    });
    const compressor = new DynamicsCompressorNode(this.#context, {
      threshold: COMPRESSION.thresholdDb,
      knee: COMPRESSION.kneeDb,
      ratio: COMPRESSION.ratio,
      attack: COMPRESSION.attackSeconds,
      release: COMPRESSION.releaseSeconds,
    });
    rumble.connect(presence).connect(compressor).connect(destination);
    this.#first = rumble;
  }

  async set(isOn: boolean): Promise<void> {
    this.#source.disconnect();
    this.#source.connect(isOn ? this.#first : this.#context.destination);
    await this.#context.resume();
  }

  close(): void {
    void this.#context.close();
  }
}

import { useEffect, useRef, useState } from 'react';
import { say } from '../words/say.js';

const LOOK_MS = 100;
/** What the meter shows: from a whisper to where it clips. */
const RANGE_DB = { from: -60, to: 0 } as const;
const HEARD_DB = -50;
const HOT_DB = -3;

/** Microphone level, as a bar and in words. */
export function SoundLevel({ stream }: { stream: MediaStream }) {
  const [levelDb, setLevelDb] = useState<number>(RANGE_DB.from);
  const loudest = useRef<number>(RANGE_DB.from);
  const hasSound = stream.getAudioTracks().length > 0;
  useEffect(() => {
    if (stream.getAudioTracks().length === 0) return;
    const context = new AudioContext();
    const analyser = context.createAnalyser();
    context.createMediaStreamSource(stream).connect(analyser);
    const samples = new Float32Array(analyser.fftSize);
    const timer = window.setInterval(() => {
      void context.resume(); // begins asleep where nobody has touched the page yet
      analyser.getFloatTimeDomainData(samples);
      const peak = samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
      const db = peak > 0 ? 20 * Math.log10(peak) : RANGE_DB.from;
      loudest.current = Math.max(db, loudest.current - 1);
      setLevelDb(Math.max(RANGE_DB.from, Math.min(RANGE_DB.to, db)));
    }, LOOK_MS);
    return () => {
      window.clearInterval(timer);
      void context.close();
    };
  }, [stream]);
  const words = !hasSound
    ? say('camera.noMicrophone')
    : loudest.current > HOT_DB
      ? say('camera.tooLoud')
      : loudest.current < HEARD_DB
        ? say('camera.silent')
        : say('camera.heard');
  const share = (levelDb - RANGE_DB.from) / (RANGE_DB.to - RANGE_DB.from);
  return (
    <div className="grid gap-1">
      <div
        role="meter"
        aria-label={say('camera.level')}
        aria-valuemin={RANGE_DB.from}
        aria-valuemax={RANGE_DB.to}
        aria-valuenow={Math.round(levelDb)}
        aria-valuetext={words}
        className="h-3 overflow-hidden rounded-full border border-edge bg-sunk"
      >
        <div
          className={`h-full origin-left ${loudest.current > HOT_DB ? 'bg-rust' : 'bg-pine'}`}
          style={{ transform: `scaleX(${share})` }}
        />
      </div>
      <p>{words}</p>
    </div>
  );
}

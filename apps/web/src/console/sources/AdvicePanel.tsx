import { useEffect, useRef, useState } from 'react';
import type { SourceView } from '@heliphon/contracts/sources';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { isSafe, PICTURE_SIZES, type PictureSize } from '@heliphon/core/ladder/picture-sizes';
import { measureUpload } from '../../camera/measure-upload.js';
import { adviseSource, openLine } from '../../data/commands.js';
import { useCan, useZone } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { Progress } from '../../ui/Progress.js';
import { QrCode } from '../../ui/QrCode.js';
import { measureSentence } from '../../words/camera.js';
import { adviceText } from '../../words/advice.js';
import { megabits } from '../../words/signal.js';
import { useAction } from '../../ui/useAction.js';

type Measuring =
  | { readonly status: 'idle'; readonly fault: string | null }
  | { readonly status: 'running'; readonly percent: number; readonly soFarBps: number | null };

/** What to set in the encoder: the largest picture that the line carries safely, by a real upload from here. */
export function AdvicePanel({ source }: { source: SourceView }) {
  const canConnect = useCan('sources.connect');
  const zone = useZone();
  const { advice } = source;
  const { error, run } = useAction();
  const uploadBps = advice?.uploadBps ?? null;
  const choose = (size: string | null): void => void run(() => adviseSource(source, { uploadBps, size }));
  return (
    <section aria-label="What to set in the encoder" className="grid content-start gap-3">
      <h3 className="font-sans text-[15px] font-semibold">What to set in the encoder</h3>
      {uploadBps === null ? (
        <p className="text-ink-soft">
          Measure the line where the encoder stands: eight seconds of real upload, and the picture that is
          safe comes out.
        </p>
      ) : (
        <p>
          This line keeps up <b className="figures">{megabits(uploadBps)}</b>, measured{' '}
          {dayAndTime(advice!.measuredAtMs!, zone)}. Picture and sound together stay under half of it.
        </p>
      )}
      {canConnect && <Measure source={source} />}
      {advice && advice.size === null && (
        <p className="border-l-4 border-plum pl-3">
          Not even the smallest picture is safe on this line. Use another line, or send the sound alone.
        </p>
      )}
      {advice?.size && <Settings source={source} size={advice.size} />}
      <details>
        <summary className="min-h-6 cursor-pointer font-semibold">All sizes, and what each needs</summary>
        <Sizes chosen={advice?.size ?? null} uploadBps={uploadBps} onChoose={canConnect ? choose : null} />
      </details>
      <Fault error={error} />
    </section>
  );
}

function Measure({ source }: { source: SourceView }) {
  const [state, setState] = useState<Measuring>({ status: 'idle', fault: null });
  const stopping = useRef<AbortController>(null);
  useEffect(() => () => stopping.current?.abort(), []);
  const measure = async (): Promise<void> => {
    const stop = new AbortController();
    stopping.current = stop;
    setState({ status: 'running', percent: 0, soFarBps: null });
    try {
      const { points, token } = await openLine(source.id);
      const line = { address: points[0]!.sendUrl, token };
      const onProgress = (percent: number, soFarBps: number | null): void =>
        setState({ status: 'running', percent, soFarBps });
      const uploadBps = await measureUpload(line, onProgress, stop.signal);
      await adviseSource(source, { uploadBps, size: null });
      setState({ status: 'idle', fault: null });
    } catch (error) {
      setState({ status: 'idle', fault: stop.signal.aborted ? null : measureSentence(error) });
    }
  };
  if (state.status === 'running') {
    return (
      <div className="grid max-w-md gap-2" role="status">
        <Progress percent={state.percent} what="Measuring the upload" />
        <p className="flex items-center gap-3">
          <span className="figures flex-1">
            {state.soFarBps === null ? 'Measuring …' : `${megabits(state.soFarBps)} so far`}
          </span>
          <Button onClick={() => stopping.current?.abort()}>Stop measuring</Button>
        </p>
      </div>
    );
  }
  return (
    <div className="grid gap-2">
      <Button className="justify-self-start" onClick={() => void measure()}>
        Measure the upload from here
      </Button>
      {state.fault && (
        <p role="alert" className="text-rust">
          {state.fault}
        </p>
      )}
    </div>
  );
}

/** To type from, to copy, and as a code for whoever stands at the encoder. */
function Settings({ source, size }: { source: SourceView; size: PictureSize }) {
  const [isCodeShown, setCodeShown] = useState(false);
  const text = adviceText(source.name, size);
  const rows: readonly [string, string][] = [
    ['Picture', `${size.widthPx} × ${size.heightPx}, ${size.frameRateFps} a second, H.264`],
    ['Bit rate of the picture', `${megabits(size.videoBitrateBps)}, constant`],
    ['Keyframe', 'every 2 s'],
    ['Sound', `AAC, ${size.audioBitrateBps / 1000} kbit/s, stereo, 48 kHz`],
  ];
  return (
    <div className="grid gap-2 rounded-md border border-edge bg-surface p-3">
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-ink-soft">{name}</dt>
            <dd className="figures">{value}</dd>
          </div>
        ))}
      </dl>
      <div className="flex flex-wrap gap-2">
        <Button onClick={() => void navigator.clipboard?.writeText(text)}>Copy these settings</Button>
        <Button aria-expanded={isCodeShown} onClick={() => setCodeShown(!isCodeShown)}>
          {isCodeShown ? 'Put the code away' : 'Show them as a code'}
        </Button>
      </div>
      {isCodeShown && <QrCode value={text} label="Code of the settings" />}
    </div>
  );
}

interface SizesProps {
  readonly chosen: PictureSize | null;
  readonly uploadBps: number | null;
  /** `null` for who may only look. */
  readonly onChoose: ((size: string | null) => void) | null;
}

/** Every size there is, and which of them the line carries. */
function Sizes({ chosen, uploadBps, onChoose }: SizesProps) {
  return (
    <table className="w-full text-left text-sm">
      <caption className="sr-only">Sizes of the picture</caption>
      <thead>
        <tr className="text-ink-soft">
          <th scope="col" className="py-1 font-normal">
            Picture
          </th>
          <th scope="col" className="font-normal">
            Bit rate
          </th>
          <th scope="col" className="font-normal">
            Upload it needs
          </th>
          <th scope="col">
            <span className="sr-only">Choose</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {PICTURE_SIZES.map((size) => {
          const isChosen = size.name === chosen?.name;
          const totalBps = size.videoBitrateBps + size.audioBitrateBps;
          const safe = uploadBps === null ? null : isSafe(size, uploadBps);
          return (
            <tr key={size.name} className="border-t border-line">
              <td className={`figures py-1 ${isChosen ? 'font-semibold' : ''}`}>
                {size.widthPx} × {size.heightPx}, {size.frameRateFps}
              </td>
              <td className="figures">{megabits(totalBps)}</td>
              <td className="figures">
                {megabits(totalBps * 2)} {safe === false && <span className="text-plum">too much here</span>}
              </td>
              <td className="text-right">
                {isChosen ? (
                  <b>advised</b>
                ) : (
                  onChoose && (
                    <Button
                      kind="quiet"
                      aria-label={`Advise ${size.widthPx} × ${size.heightPx}, ${size.frameRateFps}`}
                      onClick={() => onChoose(size.name)}
                    >
                      Advise this
                    </Button>
                  )
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

import { useEffect, useRef, useState } from 'react';
import type { SourceView } from '@heliphon/contracts/sources';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { isSafe, PICTURE_SIZES, type PictureSize } from '@heliphon/core/ladder/picture-sizes';
import { measureUpload } from '../../camera/measure-upload.js';
import { adviseSource, openSendToken } from '../../data/sources.js';
import { useCan, useZone } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { Progress } from '../../ui/Progress.js';
import { QrCode } from '../../ui/QrCode.js';
import { measureSentence } from '../../words/measure.js';
import { adviceText } from '../../words/advice.js';
import { megabits } from '../../words/signal.js';
import { useAction } from '../../ui/useAction.js';
import { Sentence } from '../../ui/Sentence.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

type Measuring =
  | { readonly status: 'idle'; readonly fault: string | null }
  | { readonly status: 'running'; readonly percent: number; readonly soFarBps: number | null };

/** Recommended encoder settings: the largest picture that the line carries safely, by a real upload from here. */
export function AdvicePanel({ source }: { source: SourceView }) {
  const canConnect = useCan('sources.connect');
  const zone = useZone();
  const { advice } = source;
  const { error, run } = useAction();
  const uploadBps = advice?.uploadBps ?? null;
  const choose = (size: string | null): void => void run(() => adviseSource(source, { uploadBps, size }));
  return (
    <section aria-label={SOURCES_TEXT.recommendedEncoderSettings} className="grid content-start gap-3">
      <h3 className="font-sans text-[15px] font-semibold">{SOURCES_TEXT.recommendedEncoderSettings}</h3>
      {uploadBps === null ? (
        <p className="text-ink-soft">{SOURCES_TEXT.measureTheConnectionFromWhere}</p>
      ) : (
        <p>
          <Sentence
            words={SOURCES_TEXT.connectionManages}
            rate={<b className="figures">{megabits(uploadBps)}</b>}
            when={dayAndTime(advice!.measuredAtMs!, zone)}
          />
        </p>
      )}
      {canConnect && <Measure source={source} />}
      {advice && advice.size === null && (
        <p className="border-l-4 border-plum pl-3">{SOURCES_TEXT.evenTheSmallestPictureIs}</p>
      )}
      {advice?.size && <Settings source={source} size={advice.size} />}
      <details>
        <summary className="min-h-6 cursor-pointer font-semibold">{SOURCES_TEXT.allSizesAndWhatThey}</summary>
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
      const { points, token } = await openSendToken(source.id);
      const access = { address: points[0]!.sendUrl, token };
      const onProgress = (percent: number, soFarBps: number | null): void =>
        setState({ status: 'running', percent, soFarBps });
      const uploadBps = await measureUpload(access, onProgress, stop.signal);
      await adviseSource(source, { uploadBps, size: null });
      setState({ status: 'idle', fault: null });
    } catch (error) {
      setState({ status: 'idle', fault: stop.signal.aborted ? null : measureSentence(error) });
    }
  };
  if (state.status === 'running') {
    return (
      <div className="grid max-w-md gap-2" role="status">
        <Progress percent={state.percent} what={SOURCES_TEXT.measuringTheUpload} />
        <p className="flex items-center gap-3">
          <span className="figures flex-1">
            {state.soFarBps === null ? SOURCES_TEXT.measuring : SOURCES_TEXT.soFar(megabits(state.soFarBps))}
          </span>
          <Button onClick={() => stopping.current?.abort()}>{SOURCES_TEXT.stopMeasuring}</Button>
        </p>
      </div>
    );
  }
  return (
    <div className="grid gap-2">
      <Button className="justify-self-start" onClick={() => void measure()}>
        {SOURCES_TEXT.measureTheUploadFromHere}
      </Button>
      {state.fault && (
        <p role="alert" className="text-rust">
          {state.fault}
        </p>
      )}
    </div>
  );
}

/** To type from, to copy, and as a code for the person at the encoder. */
function Settings({ source, size }: { source: SourceView; size: PictureSize }) {
  const [isCodeShown, setCodeShown] = useState(false);
  const text = adviceText(source.name, size);
  const rows: readonly [string, string][] = [
    [SOURCES_TEXT.picture, SOURCES_TEXT.pictureToSet(size.widthPx, size.heightPx, size.frameRateFps)],
    [SOURCES_TEXT.bitRateOfThePicture, SOURCES_TEXT.constantRate(megabits(size.videoBitrateBps))],
    [SOURCES_TEXT.keyframe, SOURCES_TEXT.every2S],
    [SOURCES_TEXT.sound, SOURCES_TEXT.soundToSet(size.audioBitrateBps / 1000)],
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
        <Button onClick={() => void navigator.clipboard?.writeText(text)}>
          {SOURCES_TEXT.copyTheseSettings}
        </Button>
        <Button aria-expanded={isCodeShown} onClick={() => setCodeShown(!isCodeShown)}>
          {isCodeShown ? SOURCES_TEXT.hideTheCode : SOURCES_TEXT.showAsAQrCode}
        </Button>
      </div>
      {isCodeShown && <QrCode value={text} label={SOURCES_TEXT.codeOfTheSettings} />}
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
      <caption className="sr-only">{SOURCES_TEXT.sizesOfThePicture}</caption>
      <thead>
        <tr className="text-ink-soft">
          <th scope="col" className="py-1 font-normal">
            {SOURCES_TEXT.picture}
          </th>
          <th scope="col" className="font-normal">
            {SOURCES_TEXT.bitRate}
          </th>
          <th scope="col" className="font-normal">
            {SOURCES_TEXT.uploadItNeeds}
          </th>
          <th scope="col">
            <span className="sr-only">{SOURCES_TEXT.choose2}</span>
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
                {megabits(totalBps * 2)}{' '}
                {safe === false && <span className="text-plum">{SOURCES_TEXT.tooMuchForThisConnection}</span>}
              </td>
              <td className="text-right">
                {isChosen ? (
                  <b>{SOURCES_TEXT.advised}</b>
                ) : (
                  onChoose && (
                    <Button
                      kind="quiet"
                      aria-label={SOURCES_TEXT.recommend(size.widthPx, size.heightPx, size.frameRateFps)}
                      onClick={() => onChoose(size.name)}
                    >
                      {SOURCES_TEXT.recommendThis}
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

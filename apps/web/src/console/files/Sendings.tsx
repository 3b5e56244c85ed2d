import { callOff, type Sending, sendOn, useSendings } from '../../data/uploads.js';
import { Button } from '../../ui/Button.js';
import { Progress } from '../../ui/Progress.js';
import { problemSentence } from '../../words/problems.js';
import { sizeWords } from '../../words/sizes.js';
import { FILES_TEXT } from '../../words/console/files.js';

/** What is on its way to the house, how far it is, and what is the matter with it. */
export function Sendings() {
  const sendings = useSendings();
  if (sendings.length === 0) return null;
  return (
    <ul aria-label={FILES_TEXT.onItsWay} className="mb-3 border-b border-line">
      {sendings.map((sending) => (
        <SendingRow key={sending.id} sending={sending} />
      ))}
    </ul>
  );
}

function SendingRow({ sending: { id, name, sizeBytes, sentBytes, state, error } }: { sending: Sending }) {
  const percent = Math.floor((100 * sentBytes) / Math.max(1, sizeBytes));
  return (
    <li className="grid gap-1.5 border-t border-line py-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <b className="min-w-0 flex-1 truncate">{name}</b>
        {state === 'failed' ? (
          <p role="alert" className="max-w-[70ch] text-rust">
            {problemSentence(error)}
          </p>
        ) : (
          <p className="figures text-[13px] text-ink-soft">
            {FILES_TEXT.sentOf(sizeWords(sentBytes), sizeWords(sizeBytes))}
          </p>
        )}
        {state === 'failed' && sentBytes > 0 && (
          <Button onClick={() => sendOn(id)}>{FILES_TEXT.resume}</Button>
        )}
        <Button kind="quiet" onClick={() => callOff(id)}>
          {state === 'failed' ? 'Cancel' : FILES_TEXT.stopSending}
        </Button>
      </div>
      {state !== 'failed' && <Progress percent={percent} what={`Sending ${name}`} />}
      {state === 'trying' && (
        <p role="status" className="text-plum">
          {FILES_TEXT.theConnectionToTheServer}
        </p>
      )}
    </li>
  );
}

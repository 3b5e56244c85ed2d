import { type FormEvent, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { SourceReport } from '@heliphon/core/signal/source-report';
import { dayAndTime, duration } from '@heliphon/contracts/time-words';
import { SRT_LIMITS } from '@heliphon/core/ingest/srt-report';
import { mutate } from 'swr';
import type { SourceView } from '@heliphon/contracts/sources';
import { deleteSource, editSource } from '../../data/commands.js';
import { useCan, useSources, useZone } from '../../data/house.js';
import { useServerNow } from '../../data/server-clock.js';
import { useSourceNow } from '../../data/live.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { Empty, Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { fieldSentence } from '../../words/problems.js';
import { protocolWords, reportWords } from '../../words/signal.js';
import { shownWords } from '../../words/sources.js';
import { BoxList } from '../boxes/BoxList.js';
import { PairBoxForm } from '../boxes/PairBoxForm.js';
import { AddSource } from './AddSource.js';
import { AdvicePanel } from './AdvicePanel.js';
import { Compared } from './Compared.js';
import { GuestLinks } from './GuestLinks.js';
import { KeySheet } from './KeySheet.js';
import { ReportTable } from './ReportTable.js';
import { SourceHistory } from './SourceHistory.js';
import { SourcePicture } from './SourcePicture.js';

/** Where pictures come from. */
export function SourcesPage() {
  const { data, error, mutate } = useSources();
  const canEdit = useCan('sources.edit');
  const [isAdding, setAdding] = useState(false);
  const [openId, setOpenId] = useState<string | null>(null);
  const [query, setQuery] = useSearchParams();
  // A box's own code carries the address of this page, and the code.
  const code = query.get('pair');
  const add = canEdit && !isAdding && (
    <span className="flex gap-2">
      <Button onClick={() => setQuery({ pair: '' })}>Pair a box</Button>
      <Button kind="main" onClick={() => setAdding(true)}>
        Add a source
      </Button>
    </span>
  );
  return (
    <div className="px-5 pt-4 pb-8">
      <div className="mb-4 flex items-center gap-4">
        <h1 className="text-[27px]">Sources</h1>
        <p className="text-ink-soft">where the picture comes from</p>
        <span className="flex-1" />
        {add}
      </div>
      {isAdding && (
        <AddSource
          onDone={(added) => {
            setAdding(false);
            if (added) setOpenId(added.id);
          }}
        />
      )}
      {canEdit && code !== null && data && (
        <PairBoxForm key={code} sources={data.items} code={code} onDone={() => setQuery({})} />
      )}
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what="the sources" />}
      {data?.items.length === 0 && (
        <Empty action={add}>
          No source yet. Add one for each encoder; it gets an address and a key of its own.
        </Empty>
      )}
      <ul>
        {data?.items.map((source) => (
          <SourceRow
            key={source.id}
            source={source}
            isOpen={openId === source.id}
            onToggle={() => setOpenId(openId === source.id ? null : source.id)}
          />
        ))}
      </ul>
      {data && <BoxList sources={data.items} />}
    </div>
  );
}

function SourceRow({
  source,
  isOpen,
  onToggle,
}: {
  source: SourceView;
  isOpen: boolean;
  onToggle: () => void;
}) {
  const now = useSourceNow(source.id);
  const canEdit = useCan('sources.edit');
  const canSeeKeys = useCan('keys.read');
  const canConnect = useCan('sources.connect');
  const isDevice = source.kind === 'device';
  return (
    <li className="border-t border-line py-3">
      <div className="flex items-center gap-4">
        <SourcePicture now={now} name={source.name} small />
        <div className="flex-1">
          <h2 className="text-[19px]">{source.name}</h2>
          {source.kind !== 'device' && <p>{shownWords(source)}</p>}
          <p className="flex items-center gap-2">
            <Mark name={now?.report ? 'out' : 'planned'} />
            {now?.report ? reportWords(now.report) : <LastSeen source={source} />}
          </p>
          {now?.report && <Since report={now.report} />}
          <NextEvents events={source.events} />
        </div>
        {isDevice && canConnect && (
          <Link className={buttonClass()} to={`/sources/${source.id}/camera`}>
            Send from this device
          </Link>
        )}
        <Button aria-expanded={isOpen} onClick={onToggle}>
          {isOpen ? 'Fold' : isDevice && canSeeKeys ? 'Address and key' : 'Look closer'}
        </Button>
      </div>
      {isOpen && (
        <div className="grid gap-6 pt-4 md:grid-cols-2 md:pl-[176px]">
          <div className="grid content-start gap-4">
            {isDevice && canSeeKeys && <KeySheet source={source} />}
            {isDevice && canConnect && <GuestLinks source={source} />}
            {canEdit && <SourceSettings key={source.version} source={source} />}
          </div>
          <div className="grid content-start gap-4">
            <ReportTable now={now} />
            <Compared source={source} now={now} />
            {isDevice && <AdvicePanel source={source} />}
            <SourceHistory sourceId={source.id} />
          </div>
        </div>
      )}
    </li>
  );
}

/** Since when, over what, from where. */
function Since({ report }: { report: SourceReport }) {
  const nowMs = useServerNow();
  const words = [
    `for ${duration(nowMs - report.sinceMs)}`,
    protocolWords(report.protocol),
    report.remoteAddress && `from ${report.remoteAddress}`,
  ];
  return <p className="text-[13px] text-ink-soft">{words.filter(Boolean).join(', ')}</p>;
}

function LastSeen({ source }: { source: SourceView }) {
  const zone = useZone();
  const last = source.lastSeenAtMs === null ? '' : `, last seen ${dayAndTime(source.lastSeenAtMs, zone)}`;
  return <span className="text-ink-soft">nothing is coming in{last}</span>;
}

function NextEvents({ events }: { events: SourceView['events'] }) {
  const zone = useZone();
  if (events.length === 0) return null;
  return (
    <p className="text-[13px]">
      {events.map(({ id, title, startsAtMs }, index) => (
        <span key={id}>
          {index > 0 && ' · '}
          <Link className="underline" to={`/events/${id}`}>
            {title}
          </Link>
          , {dayAndTime(startsAtMs, zone)}
        </span>
      ))}
    </p>
  );
}

function SourceSettings({ source }: { source: SourceView }) {
  const [name, setName] = useState(source.name);
  const [error, setError] = useState<unknown>(null);
  const rename = (event: FormEvent): void => {
    event.preventDefault();
    setError(null);
    editSource(source, { name }).then(() => toldWithUndo('The source is renamed.', source.id), setError);
  };
  return (
    <form onSubmit={rename} className="grid gap-3 border-t border-line pt-3">
      <div className="flex items-end gap-2">
        <div className="flex-1">
          <TextField
            label="Name of the source"
            value={name}
            onChange={(typed) => setName(typed.target.value)}
            error={fieldSentence(error, 'name')}
          />
        </div>
        <Button type="submit" disabled={name === source.name}>
          Rename
        </Button>
      </div>
      {source.kind === 'device' && (
        <label className="flex items-center gap-2.5">
          <input
            type="checkbox"
            className="size-5 accent-[var(--pine)]"
            checked={source.hasPassword}
            onChange={(typed) =>
              void editSource(source, { hasPassword: typed.target.checked }).catch(setError)
            }
          />
          Encoders need a name and password too
        </label>
      )}
      {source.kind === 'device' && <SrtSettings source={source} onFault={setError} />}
      <Button
        kind="quiet"
        className="justify-self-start"
        onClick={() => {
          deleteSource(source).then(() => toldWithUndo(`${source.name} is deleted.`, source.id), setError);
        }}
      >
        Delete the source
      </Button>
      <Fault error={error} exceptAt={['name']} />
    </form>
  );
}

/** Whether an encoder may also come over SRT, and how long it may wait for what was lost on the way. */
function SrtSettings({ source, onFault }: { source: SourceView; onFault: (error: unknown) => void }) {
  const { latencyMs } = source.srt ?? { latencyMs: SRT_LIMITS.latencyMs.usual };
  const save = (srt: { latencyMs: number } | null): void => {
    editSource(source, { srt }).then(() => mutate(`/api/sources/${source.id}/key`), onFault);
  };
  return (
    <>
      <label className="flex items-center gap-2.5">
        <input
          type="checkbox"
          className="size-5 accent-[var(--pine)]"
          checked={source.srt !== null}
          onChange={(typed) => save(typed.target.checked ? { latencyMs } : null)}
        />
        Encoders may also come over SRT, for lines that lose a little
      </label>
      {source.srt && (
        <SelectField
          label="Latency over SRT"
          value={String(latencyMs)}
          onChange={(chosen) => save({ latencyMs: Number(chosen) })}
          options={LATENCIES_MS.map((ms) => ({ value: String(ms), label: `${ms} ms` }))}
          hint="Four times the round trip or more; the same has to be set in the encoder"
        />
      )}
    </>
  );
}

const LATENCIES_MS = [80, 120, 200, 400, 800, 1500, 4000];

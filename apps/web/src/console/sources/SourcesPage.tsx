import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useCan } from '../../data/session.js';
import { useSources } from '../../data/sources.js';
import { Button } from '../../ui/Button.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { BoxList } from '../boxes/BoxList.js';
import { PairBoxForm } from '../boxes/PairBoxForm.js';
import { AddSource } from './AddSource.js';
import { PointList } from './PointList.js';
import { SourceRow } from './SourceRow.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

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
      <Button onClick={() => setQuery({ pair: '' })}>{SOURCES_TEXT.pairABox}</Button>
      <Button kind="main" onClick={() => setAdding(true)}>
        {SOURCES_TEXT.addASource}
      </Button>
    </span>
  );
  return (
    <div className="px-5 pt-4 pb-8">
      <div className="mb-4 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-[27px]">{SOURCES_TEXT.sources}</h1>
        <p className="text-ink-soft">{SOURCES_TEXT.whereThePictureComesFrom}</p>
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
      {!data && !error && <Loading what={SOURCES_TEXT.theSources} />}
      {data?.items.length === 0 && <Empty action={add}>{SOURCES_TEXT.noSourcesYetAddOne}</Empty>}
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
      <PointList />
    </div>
  );
}

import { useMemo, useState } from 'react';
import type { HouseView } from '@heliphon/contracts/house';
import type { LanguagesView, TriedLanguage } from '@heliphon/contracts/languages';
import { TRY_OUT_STATES, type TryOut, type TryOutState } from '@heliphon/contracts/try-out';
import type { SpokenLanguage } from '@heliphon/core/languages/words';
import { editHouse, useHouse } from '../../data/house.js';
import { useLanguages, useSpoken } from '../../data/languages.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { SelectField } from '../../ui/Field.js';
import { Empty, Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { LANGUAGES_TEXT } from '../../words/console/languages.js';
import { TRY_OUT_WORDS } from '../../words/console/look.js';
import { PageFrame } from '../inherited/PageFrame.js';
import { OwnLanguages } from './OwnLanguages.js';

const WIDTH_PX = 820;

/** Which language the pages speak, how they look in it, and any other as a file. */
export function LanguagePart() {
  const house = useHouse();
  const languages = useLanguages();
  const error: unknown = house.error ?? languages.error;
  if (error)
    return <Failed error={error} onRetry={() => void Promise.all([house.mutate(), languages.mutate()])} />;
  if (!house.data || !languages.data) return <Loading what={LANGUAGES_TEXT.languages} />;
  return <Languages house={house.data} view={languages.data} />;
}

function Languages({ house, view }: { house: HouseView; view: LanguagesView }) {
  const canEdit = useCan('house.edit');
  const [chosen, setChosen] = useState(house.language);
  const [tried, setTried] = useState<{ readonly file: object; readonly found: TriedLanguage } | null>(null);
  const action = useAction();
  const { data: spoken } = useSpoken(tried ? null : chosen);
  const shown = tried?.found.spoken ?? spoken;
  const nameOf = (tag: string): string => view.languages.find((known) => known.tag === tag)?.name ?? tag;
  const use = (): Promise<void> =>
    action.run(async () => {
      await editHouse(house, { language: chosen });
      toldWithUndo(LANGUAGES_TEXT.nowSpeaks(nameOf(chosen)), house.id);
    });
  return (
    <div className="grid gap-x-8 gap-y-6 lg:grid-cols-[minmax(320px,420px)_minmax(0,1fr)]">
      <div className="grid content-start gap-6">
        <p className="max-w-[60ch] text-ink-soft">{LANGUAGES_TEXT.whatItIsFor}</p>
        <fieldset disabled={!canEdit} className="grid gap-3">
          <SelectField
            label={LANGUAGES_TEXT.ofYourPages}
            value={chosen}
            onChange={(tag) => {
              setChosen(tag);
              setTried(null);
            }}
            options={view.languages.map(({ tag, name }) => ({
              value: tag,
              label: tag === house.language ? LANGUAGES_TEXT.used(name) : name,
            }))}
          />
          <Fault error={action.error} />
          {canEdit && (
            <Button
              kind="main"
              className="justify-self-start"
              disabled={action.isBusy || chosen === house.language}
              onClick={() => void use()}
            >
              {LANGUAGES_TEXT.useIt}
            </Button>
          )}
        </fieldset>
        <OwnLanguages view={view} canEdit={canEdit} tried={tried} onTried={setTried} onKept={setChosen} />
      </div>
      {view.slug ? (
        shown && <Preview key={shown.tag} slug={view.slug} language={shown} />
      ) : (
        <Empty>{LANGUAGES_TEXT.noPageYet}</Empty>
      )}
    </div>
  );
}

function Preview({ slug, language }: { slug: string; language: SpokenLanguage }) {
  const [state, setState] = useState<TryOutState>('now');
  const tryOut = useMemo<TryOut>(() => ({ type: 'spoken', language, state }), [language, state]);
  return (
    <section aria-label={LANGUAGES_TEXT.preview} className="grid min-w-0 content-start gap-3">
      <SelectField
        label={LANGUAGES_TEXT.state}
        value={state}
        onChange={(chosen) => setState(TRY_OUT_STATES.find((known) => known === chosen) ?? 'now')}
        options={TRY_OUT_STATES.map((known) => ({ value: known, label: TRY_OUT_WORDS[known] }))}
      />
      <PageFrame slug={slug} title={LANGUAGES_TEXT.preview} tryOut={tryOut} widthPx={WIDTH_PX} />
    </section>
  );
}

import { useRef } from 'react';
import type { LanguageRemark } from '@heliphon/core/languages/read-language';
import type { LanguagesView, TriedLanguage } from '@heliphon/contracts/languages';
import { keepLanguage, languageFilePath, removeLanguage, tryLanguage } from '../../data/languages.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { LANGUAGES_TEXT, remarkWords } from '../../words/console/languages.js';
import { readLanguageFile } from './read-language-file.js';

interface Tried {
  readonly file: object;
  readonly found: TriedLanguage;
}

interface OwnLanguagesProps {
  readonly view: LanguagesView;
  readonly canEdit: boolean;
  readonly tried: Tried | null;
  readonly onTried: (tried: Tried | null) => void;
  readonly onKept: (tag: string) => void;
}

/** Languages of the house's own: each is a file, which is looked at before it is kept. */
export function OwnLanguages({ view, canEdit, tried, onTried, onKept }: OwnLanguagesProps) {
  const input = useRef<HTMLInputElement>(null);
  const action = useAction();
  const own = view.languages.filter(({ ownId }) => ownId !== null);
  const take = (chosen: File | undefined): void => {
    if (!chosen) return;
    onTried(null);
    void action.run(async () => {
      const file = await readLanguageFile(chosen);
      onTried({ file, found: await tryLanguage(file) });
    });
  };
  const keep = ({ file }: Tried): Promise<void> =>
    action.run(async () => {
      const { tag, name, ownId } = await keepLanguage(file);
      onTried(null);
      onKept(tag);
      toldWithUndo(LANGUAGES_TEXT.isKept(name), ownId!);
    });
  const remove = (id: string, name: string): Promise<void> =>
    action.run(async () => {
      await removeLanguage(id);
      toldWithUndo(LANGUAGES_TEXT.removed(name), id);
    });
  return (
    <section aria-label={LANGUAGES_TEXT.anyOther} className="grid gap-3 border-t border-line pt-4">
      <h2 className="font-sans text-[15px] font-semibold">{LANGUAGES_TEXT.anyOther}</h2>
      <p className="max-w-[60ch] text-ink-soft">{LANGUAGES_TEXT.howToMake}</p>
      {own.length > 0 && (
        <ul aria-label={LANGUAGES_TEXT.yourOwn} className="grid gap-1">
          {own.map(({ tag, name, missing, ownId }) => (
            <li key={tag} className="flex flex-wrap items-center gap-x-3 gap-y-1">
              <b>{name}</b>
              <span className="text-ink-soft">
                {missing === 0 ? LANGUAGES_TEXT.isComplete : LANGUAGES_TEXT.missing(missing)}
              </span>
              <span className="flex-1" />
              <a className={buttonClass('quiet')} href={languageFilePath(tag)} download>
                {LANGUAGES_TEXT.download(name)}
              </a>
              {canEdit && (
                <Button kind="quiet" disabled={action.isBusy} onClick={() => void remove(ownId!, name)}>
                  {LANGUAGES_TEXT.remove(name)}
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      <div className="flex flex-wrap gap-2">
        {view.languages
          .filter(({ ownId }) => ownId === null)
          .map(({ tag, name }) => (
            <a key={tag} className={buttonClass()} href={languageFilePath(tag)} download>
              {LANGUAGES_TEXT.download(name)}
            </a>
          ))}
        {canEdit && (
          <Button disabled={action.isBusy} onClick={() => input.current?.click()}>
            {LANGUAGES_TEXT.chooseFile}
          </Button>
        )}
      </div>
      <input
        ref={input}
        type="file"
        accept="application/json,.json"
        aria-label={LANGUAGES_TEXT.chooseFile}
        className="sr-only"
        tabIndex={-1}
        onChange={({ target }) => {
          take(target.files?.[0]);
          // The same file may be chosen again once it has been put right.
          target.value = '';
        }}
      />
      <Fault error={action.error} />
      {tried && (
        <div role="status" className="grid gap-3 rounded-md border border-line p-3">
          <p>{LANGUAGES_TEXT.tried(tried.found.name)}</p>
          <Remarks remarks={tried.found.remarks} />
          <div className="flex flex-wrap gap-2">
            <Button kind="main" disabled={action.isBusy} onClick={() => void keep(tried)}>
              {LANGUAGES_TEXT.keep(tried.found.name)}
            </Button>
            <Button kind="quiet" onClick={() => onTried(null)}>
              {LANGUAGES_TEXT.letGo}
            </Button>
          </div>
        </div>
      )}
    </section>
  );
}

const MOST_SHOWN = 12;

function Remarks({ remarks }: { remarks: readonly LanguageRemark[] }) {
  if (remarks.length === 0) return <p>{LANGUAGES_TEXT.allIsWell}</p>;
  const rest = remarks.length - MOST_SHOWN;
  return (
    <ul className="grid list-disc gap-1 ps-5 text-[14px]">
      {remarks.slice(0, MOST_SHOWN).map((remark) => (
        <li key={remark.key}>
          <code className="font-mono">{remark.key}</code> {remarkWords(remark)}
        </li>
      ))}
      {rest > 0 && <li>{LANGUAGES_TEXT.andMore(rest)}</li>}
    </ul>
  );
}

import { type FormEvent, useState } from 'react';
import type { Audience } from '@heliphon/core/connectors/connector-facts';
import type { PostingWords } from '@heliphon/core/connectors/posting-words';
import { EVENT_LIMITS } from '@heliphon/contracts/events';
import type { OutletWordsView } from '@heliphon/contracts/postings';
import { Button } from '../../ui/Button.js';
import { SelectField, TextArea, TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { POSTINGS_TEXT } from '../../words/console/postings.js';
import { fieldSentence } from '../../words/problems.js';
import { ChooseFile } from '../files/ChooseFile.js';

interface PostingWordsFormProps {
  readonly outlet: OutletWordsView;
  /** What is said everywhere. */
  readonly usual: { readonly title: string; readonly text: string };
  readonly onSave: (words: PostingWords) => Promise<unknown>;
  readonly onClose: () => void;
}

/** What an event or a series says at one outlet, where that is something else than everywhere. */
export function PostingWordsForm({ outlet, usual, onSave, onClose }: PostingWordsFormProps) {
  const [words, setWords] = useState(outlet.words);
  const [isChoosing, setChoosing] = useState(false);
  const action = useAction();
  const change = (part: Partial<PostingWords>): void => setWords({ ...words, ...part });
  const wrong = (field: string): string | null => fieldSentence(action.error, field);
  const submit = (submitted: FormEvent): void => {
    submitted.preventDefault();
    void action.run(async () => {
      await onSave({ ...words, title: words.title?.trim() || null, text: words.text || null });
      onClose();
    });
  };
  return (
    <form
      aria-label={POSTINGS_TEXT.ownWordsAt(outlet.name)}
      onSubmit={submit}
      className="my-2 grid max-w-2xl gap-3 rounded-md border border-edge bg-surface p-3.5"
    >
      <p className="text-[13px] text-ink-soft">{POSTINGS_TEXT.leftEmpty}</p>
      <TextField
        label={POSTINGS_TEXT.title}
        placeholder={usual.title}
        value={words.title ?? ''}
        maxLength={Math.min(EVENT_LIMITS.titleLength, outlet.titleLength)}
        error={wrong('title')}
        onChange={(typed) => change({ title: typed.target.value || null })}
      />
      <TextArea
        label={POSTINGS_TEXT.text}
        rows={4}
        placeholder={usual.text}
        value={words.text ?? ''}
        maxLength={Math.min(EVENT_LIMITS.descriptionLength, outlet.textLength)}
        hint={
          outlet.textLength < EVENT_LIMITS.descriptionLength
            ? POSTINGS_TEXT.shortened(outlet.textLength)
            : null
        }
        error={wrong('text')}
        onChange={(typed) => change({ text: typed.target.value || null })}
      />
      <div className="flex flex-wrap items-end gap-3">
        <div className="min-w-64 flex-1">
          <SelectField
            label={POSTINGS_TEXT.whoSeesIt}
            value={words.audience ?? ''}
            error={wrong('audience')}
            onChange={(chosen) => change({ audience: (chosen || null) as Audience | null })}
            options={[
              { value: '', label: POSTINGS_TEXT.asUsual },
              ...POSTINGS_TEXT.audiencesUpTo(outlet.mostAudience).map((value) => ({
                value,
                label: POSTINGS_TEXT.audience(value),
              })),
            ]}
          />
        </div>
        <p className="flex min-h-10 flex-wrap items-center gap-2">
          <b className="font-semibold">{POSTINGS_TEXT.picture}:</b>
          {words.pictureId === null ? POSTINGS_TEXT.thePoster : POSTINGS_TEXT.anotherPicture}
          <Button onClick={() => setChoosing(true)}>{POSTINGS_TEXT.choosePicture}</Button>
          {words.pictureId !== null && (
            <Button kind="quiet" onClick={() => change({ pictureId: null })}>
              {POSTINGS_TEXT.asEverywhere}
            </Button>
          )}
        </p>
      </div>
      <div className="flex gap-3">
        <Button type="submit" kind="main" disabled={action.isBusy}>
          {POSTINGS_TEXT.save}
        </Button>
        <Button kind="quiet" onClick={onClose}>
          {POSTINGS_TEXT.cancel}
        </Button>
      </div>
      <Fault error={action.error} isSmall />
      {isChoosing && (
        <ChooseFile
          kind="picture"
          onClose={() => setChoosing(false)}
          onChoose={({ id }) => {
            setChoosing(false);
            change({ pictureId: id });
          }}
        />
      )}
    </form>
  );
}

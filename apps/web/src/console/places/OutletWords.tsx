import { type ReactNode, useState } from 'react';
import type { OutletWordsView } from '@heliphon/contracts/postings';
import { savePostingWords } from '../../data/postings.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Mark, type MarkName } from '../../ui/Mark.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { POSTINGS_TEXT } from '../../words/console/postings.js';
import { PostingWordsForm } from './PostingWordsForm.js';

interface OutletWordsProps {
  readonly of: 'events' | 'series';
  readonly id: string;
  readonly outlet: OutletWordsView;
  /** What is said everywhere. */
  readonly usual: { readonly title: string; readonly text: string };
  /** It can still be said differently. */
  readonly isOpen: boolean;
  readonly mark?: MarkName;
  /** How it stands there. */
  readonly children?: ReactNode;
}

/** An outlet in a list, and the words that an event or a series has for it. */
export function OutletWords({ of, id, outlet, usual, isOpen, mark, children }: OutletWordsProps) {
  const canEdit = useCan('events.edit');
  const [isEditing, setEditing] = useState(false);
  const { destinationId, name, platform, words } = outlet;
  const hasOwn = Object.values(words).some((value) => value !== null);
  return (
    <li>
      <div className="flex min-h-9 flex-wrap items-center gap-x-2">
        {mark && <Mark name={mark} />}
        <b>{POSTINGS_TEXT.at(name, platform)}</b>
        {children}
        {hasOwn && <span className="text-ink-soft">{POSTINGS_TEXT.saysSomethingElse}</span>}
        {canEdit && isOpen && (
          <Button
            kind="quiet"
            className="!min-h-8 text-[13px]"
            aria-expanded={isEditing}
            onClick={() => setEditing(!isEditing)}
          >
            {POSTINGS_TEXT.itsOwnWords}
          </Button>
        )}
      </div>
      {isEditing && (
        <PostingWordsForm
          outlet={outlet}
          usual={usual}
          onSave={async (changed) => {
            await savePostingWords(of, id, destinationId, changed);
            toldWithUndo(POSTINGS_TEXT.saved, id);
          }}
          onClose={() => setEditing(false)}
        />
      )}
    </li>
  );
}

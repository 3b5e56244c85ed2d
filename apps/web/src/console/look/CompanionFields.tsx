import { ArrowDown, ArrowUp } from 'lucide-react';
import type { ReactNode } from 'react';
import {
  type Companion,
  COMPANIONS,
  type Look,
  LOOK_LIMITS,
  type OwnLook,
} from '@heliphon/core/appearance/look';
import { Button } from '../../ui/Button.js';
import { CheckField, TextArea, TextField } from '../../ui/Field.js';
import { COMPANION_WORDS, LOOK_TEXT } from '../../words/console/look.js';

type OwnPart = 'companions' | 'words' | 'address' | 'giveUrl';

interface CompanionFieldsProps {
  readonly look: Look;
  readonly origin: (part: OwnPart, what: string) => ReactNode;
  readonly error: (part: OwnPart) => string | null;
  readonly onSay: (change: OwnLook) => void;
}

/** What stands beside the picture, in which order, and the words of it that are the house's own. */
export function CompanionFields({ look, origin, error, onSay }: CompanionFieldsProps) {
  const { companions } = look;
  const left = COMPANIONS.filter((kind) => !companions.includes(kind));
  const move = (kind: Companion, by: 1 | -1): void => {
    const at = companions.indexOf(kind);
    const moved = companions.filter((one) => one !== kind);
    moved.splice(at + by, 0, kind);
    onSay({ companions: moved });
  };
  return (
    <>
      <p className="text-[13px] text-ink-soft">{LOOK_TEXT.besideHint}</p>
      <ul data-part="companions" tabIndex={-1}>
        {[...companions, ...left].map((kind) => {
          const at = companions.indexOf(kind);
          return (
            <li key={kind} className="flex flex-wrap items-center justify-between gap-2">
              <CheckField
                label={COMPANION_WORDS[kind]}
                value={at >= 0}
                onChange={(isOn) =>
                  onSay({
                    companions: isOn ? [...companions, kind] : companions.filter((one) => one !== kind),
                  })
                }
              />
              {at >= 0 && (
                <span className="flex gap-1">
                  <Button
                    kind="quiet"
                    aria-label={LOOK_TEXT.moveUp(COMPANION_WORDS[kind])}
                    disabled={at === 0}
                    onClick={() => move(kind, -1)}
                  >
                    <ArrowUp size={16} aria-hidden="true" />
                  </Button>
                  <Button
                    kind="quiet"
                    aria-label={LOOK_TEXT.moveDown(COMPANION_WORDS[kind])}
                    disabled={at === companions.length - 1}
                    onClick={() => move(kind, 1)}
                  >
                    <ArrowDown size={16} aria-hidden="true" />
                  </Button>
                </span>
              )}
            </li>
          );
        })}
      </ul>
      {origin('companions', LOOK_TEXT.besideThePicture)}
      {companions.includes('words') && (
        <TextArea
          label={LOOK_TEXT.ownWords}
          data-part="words"
          rows={3}
          maxLength={LOOK_LIMITS.wordsLength}
          value={look.words}
          hint={
            <>
              {LOOK_TEXT.ownWordsHint} {origin('words', LOOK_TEXT.ownWords)}
            </>
          }
          onChange={({ target }) => onSay({ words: target.value })}
        />
      )}
      {companions.includes('address') && (
        <TextArea
          label={LOOK_TEXT.address}
          data-part="address"
          rows={3}
          maxLength={LOOK_LIMITS.addressLength}
          value={look.address}
          hint={
            <>
              {LOOK_TEXT.addressHint} {origin('address', LOOK_TEXT.address)}
            </>
          }
          onChange={({ target }) => onSay({ address: target.value })}
        />
      )}
      {companions.includes('give') && (
        <TextField
          label={LOOK_TEXT.giveUrl}
          data-part="giveUrl"
          inputMode="url"
          value={look.giveUrl}
          error={error('giveUrl')}
          hint={
            <>
              {LOOK_TEXT.giveUrlHint} {origin('giveUrl', LOOK_TEXT.giveUrl)}
            </>
          }
          onChange={({ target }) => onSay({ giveUrl: target.value })}
        />
      )}
    </>
  );
}

import type { Level } from '@heliphon/core/inherited';
import { Button } from '../../ui/Button.js';
import { FROM_WORDS, INHERITED_TEXT } from '../../words/console/inherited.js';

interface OriginProps {
  /** What it is, in words. */
  readonly what: string;
  /** Where it was said above. */
  readonly from: Level | 'usual';
  /** It is said here. */
  readonly isOwn: boolean;
  readonly onTakeBack: () => void;
}

/** Where a part comes from; where it is said here, the way back to what stands above. */
export function Origin({ what, from, isOwn, onTakeBack }: OriginProps) {
  if (!isOwn) return <span className="text-[13px] text-ink-soft">{FROM_WORDS[from]}</span>;
  return (
    <Button
      kind="quiet"
      className="justify-self-start !min-h-7 !px-1 text-[13px] underline underline-offset-2"
      aria-label={INHERITED_TEXT.partAgain(what, FROM_WORDS[from])}
      onClick={onTakeBack}
    >
      {INHERITED_TEXT.again(FROM_WORDS[from])}
    </Button>
  );
}

import { useId } from 'react';
import { DESK_TEXT } from '../../words/console/desk.js';
import type { DeskPlace } from './useDesk.js';

interface PlaceSizeProps {
  readonly place: DeskPlace;
  /** Those that are made now. */
  readonly sizes: readonly string[];
  readonly isBusy: boolean;
  readonly onChoose: (size: string | null) => void;
}

/** Which size of the picture a place gets; nothing where there is only one. */
export function PlaceSize({ place, sizes, isBusy, onChoose }: PlaceSizeProps) {
  const id = useId();
  const { chosenSize, rendition, state } = place;
  const offered = chosenSize && !sizes.includes(chosenSize) ? [chosenSize, ...sizes] : sizes;
  if (offered.length === 0) return null;
  const getsAnother = state.state === 'going-out' && rendition !== chosenSize;
  return (
    <>
      <div className="flex items-center gap-2">
        <label htmlFor={id}>{DESK_TEXT.pictureSize}</label>
        <select
          id={id}
          className="min-h-7 rounded-md border border-edge bg-surface px-1.5"
          disabled={isBusy}
          value={chosenSize ?? ''}
          onChange={(event) => onChoose(event.target.value || null)}
        >
          <option value="">{DESK_TEXT.ownPicture}</option>
          {offered.map((size) => (
            <option key={size}>{size}</option>
          ))}
        </select>
      </div>
      {getsAnother && <p>{DESK_TEXT.getsNow(rendition ?? DESK_TEXT.ownPicture)}</p>}
    </>
  );
}

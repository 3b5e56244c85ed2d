import { type ReactNode, useRef } from 'react';
import {
  GROUND_PICTURE_LIMITS,
  type GroundPicture,
  PICTURE_FITS,
} from '@heliphon/core/appearance/ground-picture';
import { groundPictureUrl } from '@heliphon/core/appearance/palette';
import { uploadGround } from '../../data/looks.js';
import { Button } from '../../ui/Button.js';
import { SelectField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { LOOK_TEXT } from '../../words/console/look.js';

interface GroundPictureFieldProps {
  readonly value: GroundPicture | null;
  /** The page's colour, which veils it. */
  readonly ground: string;
  readonly origin: ReactNode;
  readonly onChange: (picture: GroundPicture | null) => void;
}

/** So strong that most pictures leave everything readable. */
const FIRST_VEIL_PERCENT = 70;

/** A picture behind the page: chosen from this device, veiled, and marked where words show worst. */
export function GroundPictureField({ value, ground, origin, onChange }: GroundPictureFieldProps) {
  const input = useRef<HTMLInputElement>(null);
  const action = useAction();
  const take = (file: File | undefined): void => {
    if (!file) return;
    void action.run(async () => {
      const kept = await uploadGround(file);
      onChange({ fit: 'cover', veilPercent: FIRST_VEIL_PERCENT, ...value, ...kept });
    });
  };
  return (
    <div className="grid gap-2" data-part="picture" tabIndex={-1}>
      {value ? (
        <Marked picture={value} ground={ground} />
      ) : (
        <p className="text-ink-soft">{LOOK_TEXT.noPicture}</p>
      )}
      <div className="flex flex-wrap items-center gap-2">
        <Button disabled={action.isBusy} onClick={() => input.current?.click()}>
          {LOOK_TEXT.chooseALogo}
        </Button>
        {value && (
          <Button kind="quiet" onClick={() => onChange(null)}>
            {LOOK_TEXT.withoutPicture}
          </Button>
        )}
        {origin}
      </div>
      <input
        ref={input}
        type="file"
        accept="image/png,image/jpeg,image/webp,image/gif,image/avif"
        aria-label={LOOK_TEXT.choosePicture}
        className="sr-only"
        tabIndex={-1}
        onChange={({ target }) => {
          take(target.files?.[0]);
          // The same file may be chosen again once it has been put right.
          target.value = '';
        }}
      />
      <p className="text-[13px] text-ink-soft">{LOOK_TEXT.pictureHint}</p>
      <Fault error={action.error} />
      {value && (
        <>
          <SelectField
            label={LOOK_TEXT.pictureFit}
            value={value.fit}
            onChange={(chosen) => onChange({ ...value, fit: PICTURE_FITS.find((fit) => fit === chosen)! })}
            options={PICTURE_FITS.map((fit) => ({ value: fit, label: LOOK_TEXT.pictureFits[fit] }))}
          />
          <label className="grid gap-1">
            <span className="font-semibold">
              {LOOK_TEXT.veil}: {value.veilPercent}
            </span>
            <input
              type="range"
              min={0}
              max={GROUND_PICTURE_LIMITS.mostVeilPercent}
              step={5}
              value={value.veilPercent}
              onChange={({ target }) => onChange({ ...value, veilPercent: target.valueAsNumber })}
            />
          </label>
        </>
      )}
    </div>
  );
}

/** The picture through its veil; rings stand where it is darkest and lightest. */
function Marked({ picture, ground }: { picture: GroundPicture; ground: string }) {
  const { darkest, lightest } = picture.spots;
  return (
    <span className="relative block overflow-hidden rounded-md border border-line">
      <img src={groundPictureUrl(picture.id)} alt={LOOK_TEXT.thePicture} className="block w-full" />
      <span className="absolute inset-0" style={{ background: ground, opacity: picture.veilPercent / 100 }} />
      {[darkest, lightest].map(({ x, y }, index) => (
        <i
          key={index}
          aria-hidden="true"
          className="absolute size-5 -translate-1/2 rounded-full border-2 border-white outline-2 outline-black"
          style={{ left: `${x * 100}%`, top: `${y * 100}%` }}
        />
      ))}
    </span>
  );
}

import type { ReactNode } from 'react';
import { COLOUR_PATTERN } from '@heliphon/core/appearance/colour';
import {
  type InheritedLook,
  LOOK_COLOURS,
  LOOK_LIMITS,
  type LookColour,
  type LookPart,
  type OwnLook,
  TYPE_SIZES_PERCENT,
} from '@heliphon/core/appearance/look';
import { nightLook } from '@heliphon/core/appearance/night';
import type { PoorContrast } from '@heliphon/core/appearance/look-check';
import { CompanionFields } from './CompanionFields.js';
import { GroundPictureField } from './GroundPictureField.js';
import { LogoField } from './LogoField.js';
import { Origin } from '../inherited/Origin.js';
import { Button } from '../../ui/Button.js';
import { CheckField, SelectField, TextArea, TextField } from '../../ui/Field.js';
import {
  LOOK_BEHIND_WORDS,
  LOOK_COLOUR_WORDS,
  LOOK_TEXT,
  TYPE_SIZE_WORDS,
} from '../../words/console/look.js';

interface LookFieldsProps {
  readonly shown: InheritedLook;
  /** What is said here, kept or not. */
  readonly own: OwnLook;
  readonly poor: readonly PoorContrast[];
  readonly onSay: (change: OwnLook) => void;
  readonly onTakeBack: (part: LookPart) => void;
  /** What is wrong with a part, as the server says. */
  readonly error: (part: LookPart) => string | null;
}

/** Everything a look says, each with where that comes from. */
export function LookFields({
  shown: { value: look, from },
  own,
  poor,
  onSay,
  onTakeBack,
  error,
}: LookFieldsProps) {
  const origin = (part: LookPart, what: string): ReactNode => (
    <Origin
      what={what}
      from={from[part]}
      isOwn={own[part] !== undefined}
      onTakeBack={() => onTakeBack(part)}
    />
  );
  return (
    <>
      <Group name={LOOK_TEXT.colours}>
        {LOOK_COLOURS.map((colour) => (
          <div key={colour}>
            <div className="flex items-center gap-3">
              <ColourField
                part={colour}
                label={LOOK_COLOUR_WORDS[colour]}
                value={look[colour]}
                onChange={(value) => onSay({ [colour]: value })}
              />
              {origin(colour, LOOK_COLOUR_WORDS[colour])}
            </div>
            {poor
              .filter(({ part }) => part === colour)
              .map((found) => (
                <TooFaint
                  key={found.behind}
                  found={found}
                  onTake={(offer) => onSay({ [colour]: offer })}
                  onLevel={() => onSay({ sheet: look.ground })}
                  onVeil={(veilPercent) =>
                    look.picture && onSay({ picture: { ...look.picture, veilPercent } })
                  }
                />
              ))}
          </div>
        ))}
        {poor.length === 0 && (
          <p role="status" className="text-[13px] text-ink-soft">
            {LOOK_TEXT.everythingCanBeRead}
          </p>
        )}
        <div className="flex items-center justify-between gap-3">
          <CheckField
            label={LOOK_TEXT.hasNight}
            value={look.hasNight}
            onChange={(hasNight) => onSay({ hasNight })}
          />
          {origin('hasNight', LOOK_TEXT.hasNight)}
        </div>
        <p className="text-[13px] text-ink-soft">{LOOK_TEXT.nightHint}</p>
      </Group>
      <Group name={LOOK_TEXT.behindThePage}>
        <GroundPictureField
          value={look.picture}
          ground={look.ground}
          origin={origin('picture', LOOK_TEXT.behindThePage)}
          onChange={(picture) => onSay({ picture })}
        />
      </Group>
      <Group name={LOOK_TEXT.logo}>
        <LogoField
          value={look.logo}
          ground={look.sheet}
          part="logo"
          label={LOOK_TEXT.theLogo}
          none={LOOK_TEXT.noLogo}
          hint={LOOK_TEXT.logoHint}
          origin={origin('logo', LOOK_TEXT.logo)}
          onChange={(logo) => onSay({ logo })}
        />
        {look.hasNight && look.logo && (
          <LogoField
            value={look.nightLogo}
            ground={nightLook(look).sheet}
            part="nightLogo"
            label={LOOK_TEXT.theNightLogo}
            none={LOOK_TEXT.noNightLogo}
            hint={LOOK_TEXT.nightLogoHint}
            origin={origin('nightLogo', LOOK_TEXT.theNightLogo)}
            onChange={(nightLogo) => onSay({ nightLogo })}
          />
        )}
      </Group>
      <Group name={LOOK_TEXT.typeAndShape}>
        <SelectField
          label={LOOK_TEXT.sizeOfWords}
          value={String(look.typeSizePercent)}
          hint={origin('typeSizePercent', LOOK_TEXT.sizeOfWords)}
          onChange={(value) =>
            onSay({ typeSizePercent: TYPE_SIZES_PERCENT.find((size) => String(size) === value)! })
          }
          options={TYPE_SIZES_PERCENT.map((size) => ({ value: String(size), label: TYPE_SIZE_WORDS[size] }))}
        />
        <TextField
          label={LOOK_TEXT.roundingOfCorners}
          type="number"
          min={LOOK_LIMITS.cornerPx.least}
          max={LOOK_LIMITS.cornerPx.most}
          value={look.cornerPx}
          hint={origin('cornerPx', LOOK_TEXT.roundingOfCorners)}
          onChange={({ target }) =>
            target.value !== '' && target.validity.valid && onSay({ cornerPx: target.valueAsNumber })
          }
        />
      </Group>
      <Group name={LOOK_TEXT.besideThePicture}>
        <div className="flex items-center justify-between gap-3">
          <CheckField
            label={LOOK_TEXT.showsCount}
            value={look.showsCount}
            onChange={(showsCount) => onSay({ showsCount })}
          />
          {origin('showsCount', LOOK_TEXT.showsCount)}
        </div>
        <CompanionFields look={look} origin={origin} error={error} onSay={onSay} />
      </Group>
      <Group name={LOOK_TEXT.atTheFoot}>
        <TextArea
          label={LOOK_TEXT.ownLineAtTheFoot}
          data-part="foot"
          rows={2}
          maxLength={LOOK_LIMITS.footLength}
          value={look.foot}
          hint={
            <>
              {LOOK_TEXT.ownLineHint} {origin('foot', LOOK_TEXT.ownLineAtTheFoot)}
            </>
          }
          onChange={(typed) => onSay({ foot: typed.target.value })}
        />
        <div className="flex items-center justify-between gap-3">
          <CheckField
            label={LOOK_TEXT.showsOurs}
            value={look.showsOurs}
            onChange={(showsOurs) => onSay({ showsOurs })}
          />
          {origin('showsOurs', LOOK_TEXT.showsOurs)}
        </div>
      </Group>
    </>
  );
}

const Group = ({ name, children }: { name: string; children: ReactNode }) => (
  <section aria-label={name} className="grid gap-3 border-t border-line pt-3">
    <h2 className="font-sans text-[15px] font-semibold">{name}</h2>
    {children}
  </section>
);

interface ColourFieldProps {
  readonly part: LookColour;
  readonly label: string;
  readonly value: string;
  readonly onChange: (colour: string) => void;
}

/** Chosen by eye. */
function ColourField({ part, label, value, onChange }: ColourFieldProps) {
  return (
    <label className="flex min-w-0 flex-1 items-center gap-3">
      <input
        type="color"
        data-part={part}
        value={value}
        onChange={({ target }) => COLOUR_PATTERN.test(target.value) && onChange(target.value)}
        className="h-9 w-11 shrink-0 rounded-md border border-edge bg-surface p-0.5"
      />
      <span className="min-w-0">
        {label} <span className="figures text-[13px] text-ink-soft">{value}</span>
      </span>
    </label>
  );
}

const one = (ratio: number): string => (Math.floor(ratio * 10) / 10).toFixed(1);

interface TooFaintProps {
  readonly found: PoorContrast;
  readonly onTake: (offer: string) => void;
  /** Where nothing can be offered: what lies behind is made one colour. */
  readonly onLevel: () => void;
  /** A picture behind the page is veiled more. */
  readonly onVeil: (veilPercent: number) => void;
}

/** What cannot be read by many, and what would be. */
function TooFaint({ found, onTake, onLevel, onVeil }: TooFaintProps) {
  const { ratio, needed, behind, offer, veilPercent } = found;
  return (
    <div
      role="status"
      className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1 border-l-4 border-plum pl-3"
    >
      <p className="min-w-[150px] flex-1 text-[13px] text-plum">
        {LOOK_TEXT.tooFaint(LOOK_BEHIND_WORDS[behind], one(ratio), needed)}{' '}
        {offer === null && veilPercent === null && LOOK_TEXT.nothingShows}
      </p>
      {veilPercent !== null && (
        <Button className="!min-h-8 text-[13px]" onClick={() => onVeil(veilPercent)}>
          {LOOK_TEXT.veilItMore(veilPercent)}
        </Button>
      )}
      {offer === null && veilPercent !== null ? null : offer === null ? (
        <Button className="!min-h-8 text-[13px]" onClick={onLevel}>
          {LOOK_TEXT.sheetLikeThePage}
        </Button>
      ) : (
        <Button className="!min-h-8 text-[13px]" onClick={() => onTake(offer)}>
          <span
            aria-hidden="true"
            className="size-4 rounded-full border border-edge"
            style={{ background: offer }}
          />
          {LOOK_TEXT.takeThis(offer)}
        </Button>
      )}
    </div>
  );
}

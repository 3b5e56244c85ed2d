import { RENDITION_LIMITS } from '@heliphon/core/ladder/renditions';
import type { OwnSize } from '@heliphon/contracts/house';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

interface OwnSizesProps {
  readonly sizes: readonly OwnSize[];
  readonly errorAt: (path: string) => string | null;
  readonly onChange: (sizes: readonly OwnSize[]) => void;
}

const FIRST: OwnSize = { heightPx: 540, videoBitrateBps: 1_600_000 };
const { heightPx: HEIGHT, videoBitrateBps: RATE, mostOwn } = RENDITION_LIMITS;

/** What is said of a number beyond its limits. */
const outside = (value: number, least: number, most: number): string | null =>
  value < least || value > most ? HOUSE_TEXT.outOf(least, most) : null;

/** Sizes of smaller pictures that the house has beside the usual ones. */
export function OwnSizes({ sizes, errorAt, onChange }: OwnSizesProps) {
  const changed = (at: number, change: Partial<OwnSize>): void =>
    onChange(sizes.map((size, index) => (index === at ? { ...size, ...change } : size)));
  return (
    <section aria-label={HOUSE_TEXT.ownSizes} className="grid justify-items-start gap-2">
      <h3 className="font-semibold">{HOUSE_TEXT.ownSizes}</h3>
      <p className="max-w-[60ch] text-[13px] text-ink-soft">{HOUSE_TEXT.ownSizesHelp}</p>
      <ul className="grid gap-2">
        {sizes.map((size, index) => (
          <li
            key={index}
            aria-label={HOUSE_TEXT.sizeOf(size.heightPx)}
            className="flex flex-wrap items-start gap-3"
          >
            <TextField
              label={HOUSE_TEXT.sizeHeight}
              hint={HOUSE_TEXT.fromTo(HEIGHT.least, HEIGHT.most)}
              type="number"
              min={HEIGHT.least}
              max={HEIGHT.most}
              step={2}
              className="w-28"
              value={size.heightPx}
              error={
                outside(size.heightPx, HEIGHT.least, HEIGHT.most) ??
                errorAt(`ownSizes.${index}.heightPx`) ??
                errorAt(`ownSizes.${index}`)
              }
              onChange={(typed) =>
                typed.target.value !== '' && changed(index, { heightPx: typed.target.valueAsNumber })
              }
            />
            <TextField
              label={HOUSE_TEXT.sizeRate}
              hint={HOUSE_TEXT.fromTo(RATE.least / 1000, RATE.most / 1000)}
              type="number"
              min={RATE.least / 1000}
              max={RATE.most / 1000}
              step={50}
              className="w-32"
              value={size.videoBitrateBps / 1000}
              error={
                outside(size.videoBitrateBps / 1000, RATE.least / 1000, RATE.most / 1000) ??
                errorAt(`ownSizes.${index}.videoBitrateBps`)
              }
              onChange={(typed) =>
                typed.target.value !== '' &&
                changed(index, { videoBitrateBps: Math.round(typed.target.valueAsNumber * 1000) })
              }
            />
            <Button className="sm:mt-6" onClick={() => onChange(sizes.filter((_, at) => at !== index))}>
              {HOUSE_TEXT.removeTheSize}
              <span className="sr-only">: {HOUSE_TEXT.sizeOf(size.heightPx)}</span>
            </Button>
          </li>
        ))}
      </ul>
      {sizes.length < mostOwn && (
        <Button onClick={() => onChange([...sizes, FIRST])}>{HOUSE_TEXT.addASize}</Button>
      )}
    </section>
  );
}

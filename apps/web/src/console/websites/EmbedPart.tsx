import { useState } from 'react';
import { EMBED_EXTRAS, EMBED_WIDTH_PX, embedCode, type EmbedExtra } from '@heliphon/core/delivery/embed-code';
import { CopyField } from '../../ui/CopyField.js';
import { CheckField, SelectField, TextField } from '../../ui/Field.js';
import { EXTRA_WORDS, WEBSITES_TEXT } from '../../words/console/websites.js';

const USUAL_WIDTH_PX = 640;

/** Ways to put it into a page, as somebody wants it, and a preview of exactly that. */
export function EmbedPart({ name, slug }: { name: string; slug: string }) {
  const [isCountdown, setCountdown] = useState(false);
  const [chosen, setChosen] = useState<readonly EmbedExtra[]>([]);
  const [isFixed, setFixed] = useState(false);
  const [typed, setTyped] = useState(String(USUAL_WIDTH_PX));
  const width = Math.min(EMBED_WIDTH_PX.most, Math.max(EMBED_WIDTH_PX.least, Math.round(Number(typed)) || 0));
  const widthPx = isFixed ? width : null;
  const code = embedCode(location.origin, slug, name, { isCountdown, extras: chosen, widthPx });
  return (
    <section aria-label={WEBSITES_TEXT.putItIn} className="grid gap-4 border-t border-line pt-4">
      <h2 className="text-[19px]">{WEBSITES_TEXT.putItIn}</h2>
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <div className="w-[280px]">
          <SelectField
            label={WEBSITES_TEXT.whatShows}
            value={isCountdown ? 'countdown' : 'picture'}
            onChange={(value) => setCountdown(value === 'countdown')}
            options={[
              { value: 'picture', label: WEBSITES_TEXT.picture },
              { value: 'countdown', label: WEBSITES_TEXT.countdownAlone },
            ]}
          />
        </div>
        <div className="w-[220px]">
          <SelectField
            label={WEBSITES_TEXT.width}
            value={isFixed ? 'fixed' : 'fits'}
            onChange={(value) => setFixed(value === 'fixed')}
            options={[
              { value: 'fits', label: WEBSITES_TEXT.fitsTheRoom },
              { value: 'fixed', label: WEBSITES_TEXT.fixed },
            ]}
          />
        </div>
        {isFixed && (
          <div className="w-[110px]">
            <TextField
              label={WEBSITES_TEXT.widthInPixels}
              type="number"
              min={EMBED_WIDTH_PX.least}
              max={EMBED_WIDTH_PX.most}
              value={typed}
              onChange={({ target }) => setTyped(target.value)}
              onBlur={() => setTyped(String(width))}
            />
          </div>
        )}
      </div>
      {!isCountdown && (
        <fieldset className="flex flex-wrap items-center gap-x-6 gap-y-1">
          <legend className="float-left mr-4 font-semibold">{WEBSITES_TEXT.with}</legend>
          {EMBED_EXTRAS.map((extra) => (
            <CheckField
              key={extra}
              label={EXTRA_WORDS[extra]}
              value={chosen.includes(extra)}
              onChange={(isOn) =>
                setChosen(EMBED_EXTRAS.filter((known) => (known === extra ? isOn : chosen.includes(known))))
              }
            />
          ))}
        </fieldset>
      )}
      <CopyField label={WEBSITES_TEXT.line} value={code.script} what={WEBSITES_TEXT.theLine} />
      <CopyField label={WEBSITES_TEXT.frame} value={code.frame} what={WEBSITES_TEXT.theFrame} />
      <p className="max-w-[70ch] text-ink-soft">{WEBSITES_TEXT.bareLink}</p>
      <details>
        <summary className="min-h-9 cursor-pointer font-semibold">{WEBSITES_TEXT.recipes}</summary>
        <ul className="max-w-[70ch] list-disc pl-5">
          <li>{WEBSITES_TEXT.recipeEditor}</li>
          <li>{WEBSITES_TEXT.recipeText}</li>
          <li>{WEBSITES_TEXT.recipeFile}</li>
        </ul>
      </details>
      <figure className="min-w-0">
        <figcaption className="mb-2 text-[13px] text-ink-soft">{WEBSITES_TEXT.exactlyThis}</figcaption>
        <iframe
          key={code.address}
          src={code.address}
          title={WEBSITES_TEXT.exactlyThis}
          className="block max-w-full border border-line"
          style={{ width: widthPx ?? '100%', height: code.heightPx }}
        />
      </figure>
    </section>
  );
}

import type { ViewersHad } from '@heliphon/core/audience/viewers-have';
import type { Fault } from '@heliphon/core/faults/fault';
import { clock, duration } from '@heliphon/contracts/time-words';
import { REPORT_TEXT } from '../../words/console/report.js';

interface HadBandProps {
  readonly airAtMs: number;
  readonly endAtMs: number;
  readonly viewersHad: readonly ViewersHad[];
  readonly faults: readonly Fault[];
}

/** What is less than the picture is lower too: nobody has to tell it by its colour. */
const LOOK: Readonly<Record<ViewersHad['kind'], { readonly className: string; readonly height: number }>> = {
  picture: { className: 'bg-pine', height: 1 },
  film: { className: 'bg-plum', height: 1 },
  slate: { className: 'bg-marigold', height: 0.65 },
  nothing: { className: 'bg-rust', height: 0.35 },
};
const HEIGHT_PX = 34;
const TICKS = 6;

/** The event's time to scale: what viewers had as a band, faults as notches under it. */
export function HadBand({ airAtMs, endAtMs, viewersHad, faults }: HadBandProps) {
  const wholeMs = endAtMs - airAtMs;
  const at = (ms: number): string => `${(Math.min(Math.max(ms - airAtMs, 0), wholeMs) / wholeMs) * 100}%`;
  const width = (fromMs: number, toMs: number): string =>
    `max(2px, ${((Math.min(toMs, endAtMs) - Math.max(fromMs, airAtMs)) / wholeMs) * 100}%)`;
  const kinds = [...new Set(viewersHad.map(({ kind }) => kind))];
  return (
    <figure className="m-0">
      <div className="relative border-b border-edge" style={{ height: HEIGHT_PX }} aria-hidden="true">
        {viewersHad.map(({ kind, fromMs, toMs }) => (
          <span
            key={fromMs}
            className={`absolute bottom-0 ${LOOK[kind].className} print:[print-color-adjust:exact]`}
            style={{ left: at(fromMs), width: width(fromMs, toMs), height: HEIGHT_PX * LOOK[kind].height }}
          />
        ))}
      </div>
      <div className="relative h-3" aria-hidden="true">
        {faults.map(({ kind, subjectId, fromMs, toMs }) => (
          <span
            key={`${kind} ${subjectId} ${fromMs}`}
            className="absolute top-0 h-2 bg-rust print:[print-color-adjust:exact]"
            style={{ left: at(fromMs), width: width(fromMs, toMs ?? endAtMs) }}
          />
        ))}
      </div>
      <div className="figures relative h-5 text-[13px] text-ink-soft" aria-hidden="true">
        {Array.from({ length: TICKS + 1 }, (_, nth) => (
          <span
            key={nth}
            className="absolute"
            style={
              nth === TICKS
                ? { right: 0 }
                : { left: `${(nth / TICKS) * 100}%`, transform: nth === 0 ? 'none' : 'translateX(-50%)' }
            }
          >
            {clock((wholeMs * nth) / TICKS)}
          </span>
        ))}
      </div>
      <figcaption className="flex flex-wrap gap-x-4 gap-y-1 text-[13px] text-ink-soft">
        {kinds.map((kind) => (
          <span key={kind} className="flex items-center gap-1.5">
            <span
              aria-hidden="true"
              className={`inline-block w-3 ${LOOK[kind].className} print:[print-color-adjust:exact]`}
              style={{ height: 12 * LOOK[kind].height }}
            />
            {REPORT_TEXT[kind]} {duration(totalMs(viewersHad, kind))}
          </span>
        ))}
        {faults.length > 0 && <span>{REPORT_TEXT.oneNotchAFault}</span>}
      </figcaption>
    </figure>
  );
}

const totalMs = (spans: readonly ViewersHad[], kind: ViewersHad['kind']): number =>
  spans.filter((span) => span.kind === kind).reduce((sum, { fromMs, toMs }) => sum + toMs - fromMs, 0);

import { useEffect, useRef, useState } from 'react';
import type { EventView } from '@heliphon/contracts/events';
import type { SignalReportView } from '@heliphon/contracts/signal';
import { shortDay } from '@heliphon/contracts/time-words';
import { useSignal } from '../../data/events.js';
import { useZone } from '../../data/session.js';
import { useLight } from '../../ui/light.js';
import { REPORT_TEXT } from '../../words/console/report.js';
import { layout, overlaid, traces } from '../desk/strip-chart.js';

const HEIGHT_PX = 240;
/** As many points as a wide screen has pixels; zooming in draws the same points further apart. */
const MOST_POINTS = 1500;
const CONFIG = { displayModeBar: false, responsive: true, scrollZoom: false, doubleClick: 'reset' };

/** Everything that was measured, to be looked at closely, with another event of the series laid over it. */
export function ReportChart({ event, view }: { event: EventView; view: SignalReportView }) {
  const zone = useZone();
  const light = useLight('day');
  const [other] = view.before;
  const [isOverlaid, setOverlaid] = useState(false);
  const { airAtMs, endAtMs } = view;
  const everyMs = Math.max(1, Math.ceil((endAtMs - airAtMs) / MOST_POINTS / 1000)) * 1000;
  const { data } = useSignal(event.id, null, everyMs);
  const otherSignal = useSignal(isOverlaid && other ? other.eventId : null, null, everyMs).data;
  const box = useRef<HTMLDivElement>(null);

  useEffect(() => {
    const node = box.current;
    if (!node || !data || data.samples.length === 0) return;
    let isOver = false;
    void import('plotly.js-basic-dist-min').then(({ default: plotly }) => {
      const shows = { fromMs: airAtMs, toMs: endAtMs, nowMs: endAtMs };
      const drawn = layout(node, { ...view, ...data, present: null }, shows, zone, HEIGHT_PX);
      const beside =
        isOverlaid && other && otherSignal ? overlaid(otherSignal.samples, airAtMs - other.airAtMs) : [];
      if (!isOver) void plotly.react(node, [...traces(data.samples), ...beside], drawn, CONFIG);
    });
    return () => {
      isOver = true;
    };
  }, [data, view, airAtMs, endAtMs, zone, light, isOverlaid, other, otherSignal]);

  useEffect(() => {
    const node = box.current;
    return () => {
      if (node) void import('plotly.js-basic-dist-min').then(({ default: plotly }) => plotly.purge(node));
    };
  }, []);

  if (!data || data.samples.length === 0) return null;
  const link = 'text-pine underline underline-offset-4';
  return (
    <section aria-label={REPORT_TEXT.inDetail} className="border-t border-line pt-3 print:break-inside-avoid">
      <h2 className="pb-1 text-[17px]">{REPORT_TEXT.inDetail}</h2>
      <p className="text-[13px] text-ink-soft print:hidden">{REPORT_TEXT.howToZoom}</p>
      <div ref={box} style={{ height: HEIGHT_PX }} aria-hidden="true" />
      <p className="flex flex-wrap gap-x-5 gap-y-1 pt-1 print:hidden">
        {other && (
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={isOverlaid}
              onChange={() => setOverlaid(!isOverlaid)}
              className="size-5 accent-pine"
            />
            {REPORT_TEXT.layOver(shortDay(other.airAtMs, zone))}
          </label>
        )}
        <a className={link} href={`/api/events/${event.id}/signal.csv`}>
          {REPORT_TEXT.asTable}
        </a>
        <a className={link} href={`/api/events/${event.id}/signal?everyMs=1000`} download="signal.json">
          {REPORT_TEXT.asJson}
        </a>
      </p>
    </section>
  );
}

import { type PointerEvent, useRef, useState } from 'react';
import { type RotaMove, ROTA_STEP_HOURS, snapHours } from '@heliphon/core/schedule/move-on-rota';

/** A press that moves less is a click. */
const THRESHOLD_PX = 5;

interface RotaDragOptions {
  /** Hours that the whole width of the sheet shows. */
  readonly hoursAcross: number;
  readonly canMove: boolean;
  readonly onMoved: (move: RotaMove) => void;
}

interface RotaDrag {
  /** Where the bar hangs while it is dragged; `null` at rest. */
  readonly move: RotaMove | null;
  readonly onPointerDown: (event: PointerEvent<HTMLElement>, edge: RotaMove['edge']) => void;
}

/**
 * Drags a bar of the rota, or its end, by the pointer: across in quarter hours, down in days. Measured on the sheet
 * itself, since rows differ in height. `Escape` puts it back.
 */
export function useRotaDrag({ hoursAcross, canMove, onMoved }: RotaDragOptions): RotaDrag {
  const [move, setMove] = useState<RotaMove | null>(null);
  const latest = useRef<RotaMove | null>(null);

  const onPointerDown = (event: PointerEvent<HTMLElement>, edge: RotaMove['edge']): void => {
    if (!canMove || event.button !== 0) return;
    const sheet = event.currentTarget.closest<HTMLElement>('[data-rota]');
    const row = event.currentTarget.closest<HTMLElement>('[data-rota-day]');
    if (!sheet || !row) return;
    event.preventDefault();
    const rows = [...sheet.querySelectorAll<HTMLElement>('[data-rota-day]')];
    const widthPx = row.querySelector<HTMLElement>('[data-rota-hours]')!.clientWidth;
    const from = { x: event.clientX, y: event.clientY, row: rows.indexOf(row) };
    const abort = new AbortController();
    const { signal } = abort;
    let isDragging = false;

    const finish = (isKept: boolean): void => {
      abort.abort();
      const last = latest.current;
      latest.current = null;
      setMove(null);
      if (isKept && last && (last.days !== 0 || last.hours !== 0)) onMoved(last);
    };
    const follow = (moved: globalThis.PointerEvent): void => {
      isDragging ||= Math.hypot(moved.clientX - from.x, moved.clientY - from.y) > THRESHOLD_PX;
      if (!isDragging) return;
      const hours = snapHours(((moved.clientX - from.x) / widthPx) * hoursAcross);
      const over = rows.findIndex((candidate) => moved.clientY < candidate.getBoundingClientRect().bottom);
      const days = edge === 'end' ? 0 : (over < 0 ? rows.length - 1 : over) - from.row;
      latest.current = { days, hours, edge };
      setMove(latest.current);
    };
    window.addEventListener('pointermove', follow, { signal });
    window.addEventListener('pointerup', () => finish(true), { signal });
    window.addEventListener('pointercancel', () => finish(false), { signal });
    window.addEventListener('keydown', (key) => key.key === 'Escape' && finish(false), { signal });
  };

  return { move, onPointerDown };
}

/** The keys that move a bar: arrows the whole, with Shift its end. */
export function moveOfKey(key: string, isEnd: boolean): RotaMove | null {
  const edge = isEnd ? 'end' : 'whole';
  switch (key) {
    case 'ArrowLeft':
      return { days: 0, hours: -ROTA_STEP_HOURS, edge };
    case 'ArrowRight':
      return { days: 0, hours: ROTA_STEP_HOURS, edge };
    case 'ArrowUp':
      return isEnd ? null : { days: -1, hours: 0, edge };
    case 'ArrowDown':
      return isEnd ? null : { days: 1, hours: 0, edge };
    default:
      return null;
  }
}

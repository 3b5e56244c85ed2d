import { useCallback, useEffect, useRef, useState } from 'react';
import { onDuty } from '@heliphon/core/duties/duties';
import { localOf } from '@heliphon/core/schedule/civil-time';
import type { EditEvent, EventView } from '@heliphon/contracts/events';
import { ApiError, OfflineError } from '../../data/api.js';
import { editEvent } from '../../data/events.js';

const SAVE_AFTER_MS = 600;
const RETRY_AFTER_MS = 3000;

export type SaveState =
  | { readonly status: 'saved' }
  | { readonly status: 'saving' }
  | { readonly status: 'waiting'; readonly error: unknown }
  /** Somebody else changed the same fields meanwhile: theirs is saved, ours is here. */
  | { readonly status: 'both'; readonly theirs: EventView; readonly fields: readonly (keyof EditEvent)[] }
  | { readonly status: 'refused'; readonly error: unknown; readonly fields: readonly string[] };

export interface Autosave {
  /** What was changed and not yet taken, over what the server has. */
  readonly draft: EditEvent;
  readonly state: SaveState;
  /** Something was saved here since the page was opened. */
  readonly hasSaved: boolean;
  readonly change: (part: EditEvent) => void;
  /** Ends a clash of two versions: ours goes on top of theirs, or ours is let go. */
  readonly choose: (whose: 'ours' | 'theirs') => void;
}

/**
 * Everything saves itself. What the server has not taken stays in the draft: offline it is tried again, refused it
 * stays until it is put right. Where somebody else saved other fields meanwhile, both are kept; where they changed the
 * same ones, both versions are shown and somebody chooses.
 */
export function useAutosave(event: EventView): Autosave {
  const [draft, setDraft] = useState<EditEvent>({});
  const [state, setState] = useState<SaveState>({ status: 'saved' });
  const [hasSaved, setHasSaved] = useState(false);
  const latest = useRef(draft);
  const timer = useRef<number | null>(null);
  const isSaving = useRef(false);
  /** The version that our edits were made upon: what arrives by push while a draft is open does not raise it. */
  const base = useRef(event);
  if (Object.keys(draft).length === 0 && event.version > base.current.version) base.current = event;

  const save = useCallback(async (): Promise<void> => {
    const sent = latest.current;
    if (isSaving.current || Object.keys(sent).length === 0) return;
    isSaving.current = true;
    setState({ status: 'saving' });
    let retryMs: number | null = null;
    try {
      const saved = await editEvent(event.id, base.current.version, sent);
      base.current = saved;
      const rest = without(latest.current, sent);
      latest.current = rest;
      setDraft(rest);
      setState({ status: 'saved' });
      setHasSaved(true);
      if (Object.keys(rest).length > 0) retryMs = 0;
    } catch (error) {
      if (error instanceof ApiError && error.status === 412) {
        const theirs = error.problem.current as EventView;
        const fields = bothChanged(sent, base.current, theirs);
        base.current = theirs;
        if (fields.length > 0) setState({ status: 'both', theirs, fields });
        else retryMs = 0;
      } else if (error instanceof OfflineError || (error instanceof ApiError && error.status === 503)) {
        setState({ status: 'waiting', error });
        retryMs = RETRY_AFTER_MS;
      } else {
        setState({ status: 'refused', error, fields: Object.keys(sent) });
      }
    } finally {
      isSaving.current = false;
      if (retryMs !== null) timer.current = window.setTimeout(() => void save(), retryMs);
    }
  }, [event.id]);

  const change = useCallback(
    (part: EditEvent) => {
      latest.current = { ...latest.current, ...part };
      setDraft(latest.current);
      if (timer.current !== null) window.clearTimeout(timer.current);
      timer.current = window.setTimeout(() => void save(), SAVE_AFTER_MS);
    },
    [save],
  );

  // Leaving the page saves at once what was still waiting.
  useEffect(
    () => () => {
      if (timer.current !== null) window.clearTimeout(timer.current);
      void save();
    },
    [save],
  );

  const choose = useCallback(
    (whose: 'ours' | 'theirs') => {
      if (whose === 'theirs') {
        latest.current = {};
        setDraft({});
        setState({ status: 'saved' });
      } else void save();
    },
    [save],
  );

  return { draft, state, hasSaved, change, choose };
}

/** Fields of ours that somebody else has changed too, and to something else. */
function bothChanged(ours: EditEvent, before: EventView, theirs: EventView): (keyof EditEvent)[] {
  const text = (value: unknown): string => JSON.stringify(value);
  const [was, is] = [asEdit(before), asEdit(theirs)];
  return (Object.keys(ours) as (keyof EditEvent)[]).filter(
    (field) => text(was[field]) !== text(is[field]) && text(is[field]) !== text(ours[field]),
  );
}

/** An event's fields as an edit says them. */
export const asEdit = (view: EventView): EditEvent => ({
  ...view,
  duties: onDuty(view.duties),
  startsAtLocal: localOf(view.startsAtMs, view.zone),
  stopsAtLocal: localOf(view.stopsAtMs, view.zone),
});

/** What is left of a draft after a part of it was saved: fields changed since stay. */
function without(draft: EditEvent, saved: EditEvent): EditEvent {
  return Object.fromEntries(
    Object.entries(draft).filter(([field, value]) => saved[field as keyof EditEvent] !== value),
  ) as EditEvent;
}

import { useCallback, useEffect, useRef, useState } from 'react';
import type { EditEvent, EventView } from '@heliphon/contracts/events';
import { ApiError, ask, OfflineError } from '../../data/api.js';
import { editEvent } from '../../data/commands.js';

const SAVE_AFTER_MS = 600;
const RETRY_AFTER_MS = 3000;

export type SaveState =
  | { readonly status: 'saved' }
  | { readonly status: 'saving' }
  | { readonly status: 'waiting'; readonly error: unknown }
  | { readonly status: 'refused'; readonly error: unknown; readonly fields: readonly string[] };

export interface Autosave {
  /** What was changed and not yet taken, over what the server has. */
  readonly draft: EditEvent;
  readonly state: SaveState;
  readonly change: (part: EditEvent) => void;
}

/**
 * Everything saves itself. What the server has not taken stays in the draft: offline it is tried again, refused it
 * stays until it is put right. Where somebody else saved meanwhile, our fields go on top of theirs.
 */
export function useAutosave(event: EventView): Autosave {
  const [draft, setDraft] = useState<EditEvent>({});
  const [state, setState] = useState<SaveState>({ status: 'saved' });
  const latest = useRef({ draft, version: event.version });
  const timer = useRef<number | null>(null);
  const isSaving = useRef(false);
  latest.current.version = Math.max(latest.current.version, event.version);

  const save = useCallback(async (): Promise<void> => {
    const sent = latest.current.draft;
    if (isSaving.current || Object.keys(sent).length === 0) return;
    isSaving.current = true;
    setState({ status: 'saving' });
    let retryMs: number | null = null;
    try {
      const saved = await editEvent(event.id, latest.current.version, sent);
      latest.current.version = saved.version;
      const rest = without(latest.current.draft, sent);
      latest.current.draft = rest;
      setDraft(rest);
      setState({ status: 'saved' });
      if (Object.keys(rest).length > 0) retryMs = 0;
    } catch (error) {
      if (error instanceof ApiError && error.status === 412) {
        latest.current.version = (await ask<EventView>(`/api/events/${event.id}`)).version;
        retryMs = 0;
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
      latest.current.draft = { ...latest.current.draft, ...part };
      setDraft(latest.current.draft);
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

  return { draft, state, change };
}

/** What is left of a draft after a part of it was saved: fields changed since stay. */
function without(draft: EditEvent, saved: EditEvent): EditEvent {
  return Object.fromEntries(
    Object.entries(draft).filter(([field, value]) => saved[field as keyof EditEvent] !== value),
  ) as EditEvent;
}

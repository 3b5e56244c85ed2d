import { mutate } from 'swr';
import type { ImportView } from '@heliphon/contracts/calendar-import';
import type { OwnCalendar } from '@heliphon/contracts/calendars';
import type {
  AddDestination,
  DestinationAddress,
  DestinationView,
  EditDestination,
} from '@heliphon/contracts/destinations';
import type { AnswerDuty, OwnDuties } from '@heliphon/contracts/duties';
import type { ChooseEnd, EditEvent, EventView, PlanEvent } from '@heliphon/contracts/events';
import type {
  DeleteHouse,
  EditHouse,
  EditRecording,
  HouseView,
  RecordingView,
  SessionView,
  SignIn,
} from '@heliphon/contracts/house';
import type { OrderView, WriteOrder } from '@heliphon/contracts/order';
import type {
  InvitePerson,
  MadeToken,
  MakeToken,
  OwnLetters,
  PersonView,
  SecondFactorOffer,
} from '@heliphon/contracts/people';
import type { PushTopic } from '@heliphon/contracts/push';
import type {
  EditSeries,
  PlanSeries,
  PreviewSeries,
  SeriesPreview,
  SeriesView,
  SpreadChange,
} from '@heliphon/contracts/series';
import type { BoxView, EditBox, PairBox } from '@heliphon/contracts/boxes';
import type { AddGuestLink, GuestLink, SendingLine } from '@heliphon/contracts/lines';
import type { AddSource, AdviseSource, EditSource, SourceView } from '@heliphon/contracts/sources';
import type { Role } from '@heliphon/core/access/capabilities';
import type { CommandKind } from '@heliphon/core/schedule/event-life';
import { ask } from './api.js';
import { refreshAll, refreshTopic } from './house.js';
import { randomId } from './random-id.js';

/** What the console asks the server to do. Each refreshes what it changed; the push does the same for others. */

export async function signIn(wish: SignIn): Promise<void> {
  await mutate('/api/session', ask<SessionView>('/api/session', { method: 'POST', body: wish }), {
    revalidate: false,
  });
}

export async function signOut(): Promise<void> {
  await ask('/api/session', { method: 'DELETE' });
  location.assign('/');
}

async function took(event: Promise<EventView>): Promise<EventView> {
  const saved = await event;
  await mutate(`/api/events/${saved.id}`, saved, { revalidate: false });
  refreshTopic('events');
  return saved;
}

export const planEvent = (wish: PlanEvent): Promise<EventView> =>
  took(ask('/api/events', { method: 'POST', body: wish }));

export const editEvent = (id: string, version: number, change: EditEvent): Promise<EventView> =>
  took(ask(`/api/events/${id}`, { method: 'PATCH', version, body: change }));

export function setPoster(id: string, file: File): Promise<EventView> {
  const form = new FormData();
  form.set('poster', file);
  return took(ask(`/api/events/${id}/poster`, { method: 'POST', form }));
}

export const removePoster = (id: string): Promise<EventView> =>
  took(ask(`/api/events/${id}/poster`, { method: 'DELETE' }));

export async function deleteEvent(id: string): Promise<void> {
  await ask(`/api/events/${id}`, { method: 'DELETE' });
  refreshTopic('events');
}

/** Moves an event by hand. The id makes a repeat harmless. */
export const moveEvent = (event: EventView, kind: CommandKind): Promise<EventView> =>
  took(
    ask(`/api/events/${event.id}/${kind}`, {
      method: 'POST',
      body: { commandId: randomId(), fromState: event.state },
    }),
  );

/** A private rehearsal, this minute. */
export const startRehearsal = (id: string): Promise<EventView> =>
  thenRefresh('events', ask(`/api/events/${id}/rehearsals`, { method: 'POST' }));
/** A rehearsal becomes an event of its own. */
export const keepRehearsal = (id: string): Promise<EventView> =>
  thenRefresh('events', ask(`/api/events/${id}/keep-rehearsal`, { method: 'POST' }));

/** A cancelled event takes place after all. */
export const reinstateEvent = (event: EventView): Promise<EventView> =>
  took(ask(`/api/events/${event.id}/reinstate`, { method: 'POST' }));

/** A quarter of an hour more, or no running over. */
export const chooseEnd = (event: EventView, wish: ChooseEnd['wish']): Promise<EventView> =>
  took(ask(`/api/events/${event.id}/planned-end`, { method: 'POST', body: { wish } }));

/** Looks at a calendar file, or takes it over. */
export function takeCalendar(step: 'preview' | 'import', calendar: Blob): Promise<ImportView> {
  const form = new FormData();
  form.set('calendar', calendar, 'plan.ics');
  return thenRefresh('events', ask(`/api/calendar/${step}`, { method: 'POST', form }));
}

/** Passes over the rest of the film before the start. */
export const skipFilm = (id: string): Promise<EventView> =>
  took(ask(`/api/events/${id}/skip-film`, { method: 'POST' }));

/** Calls an event off; whoever waits for it is told. */
export const cancelEvent = (event: EventView, notice: string): Promise<EventView> =>
  took(ask(`/api/events/${event.id}/cancel`, { method: 'POST', body: { fromState: event.state, notice } }));

/** An answer, once the lists of a topic have been asked for anew. */
export async function thenRefresh<T>(topic: PushTopic, answer: Promise<T>): Promise<T> {
  const value = await answer;
  refreshTopic(topic);
  return value;
}

export const planSeries = (wish: PlanSeries): Promise<SeriesView> =>
  thenRefresh('events', ask('/api/series', { method: 'POST', body: wish }));
export const editSeries = (series: SeriesView, change: EditSeries): Promise<SeriesView> =>
  thenRefresh(
    'events',
    ask(`/api/series/${series.id}`, { method: 'PATCH', version: series.version, body: change }),
  );
export const previewSeries = (wish: PreviewSeries): Promise<SeriesPreview> =>
  ask('/api/series/preview', { method: 'POST', body: wish });
export const skipDate = (id: string, date: string, isSkipped: boolean): Promise<SeriesView> =>
  thenRefresh('events', ask(`/api/series/${id}/skips/${date}`, { method: isSkipped ? 'PUT' : 'DELETE' }));
/** Brings what one date changed by itself to the later ones, or to all. */
export const spreadChange = (eventId: string, to: SpreadChange['to']): Promise<SeriesView> =>
  thenRefresh('events', ask(`/api/events/${eventId}/spread`, { method: 'POST', body: { to } }));

/** A way for this browser to send to a source, or to measure its upload. */
export const openLine = (sourceId: string): Promise<SendingLine> =>
  ask(`/api/sources/${sourceId}/lines`, { method: 'POST' });
export const adviseSource = (source: SourceView, wish: AdviseSource): Promise<SourceView> =>
  thenRefresh('sources', ask(`/api/sources/${source.id}/advice`, { method: 'PUT', body: wish }));
export const inviteGuest = (sourceId: string, wish: AddGuestLink): Promise<GuestLink> =>
  ask(`/api/sources/${sourceId}/guests`, { method: 'POST', body: wish });
export const withdrawGuest = (id: string): Promise<void> =>
  thenRefresh('sources', ask(`/api/guests/${id}`, { method: 'DELETE' }));
export const pairBox = (wish: PairBox): Promise<BoxView> =>
  thenRefresh('sources', ask('/api/boxes', { method: 'POST', body: wish }));
export const editBox = (box: BoxView, change: EditBox): Promise<BoxView> =>
  thenRefresh(
    'sources',
    ask(`/api/boxes/${box.id}`, { method: 'PATCH', version: box.version, body: change }),
  );
export const letBoxGo = (box: BoxView): Promise<void> =>
  thenRefresh('sources', ask(`/api/boxes/${box.id}`, { method: 'DELETE' }));
export const addSource = (wish: AddSource): Promise<SourceView> =>
  thenRefresh('sources', ask('/api/sources', { method: 'POST', body: wish }));
export const editSource = (source: SourceView, change: EditSource): Promise<SourceView> =>
  thenRefresh(
    'sources',
    ask(`/api/sources/${source.id}`, { method: 'PATCH', version: source.version, body: change }),
  );
export const renewKey = (source: SourceView): Promise<SourceView> =>
  thenRefresh('sources', ask(`/api/sources/${source.id}/renew-key`, { method: 'POST' }));
export const deleteSource = (source: SourceView): Promise<void> =>
  thenRefresh('sources', ask(`/api/sources/${source.id}`, { method: 'DELETE' }));

export const addDestination = (wish: AddDestination): Promise<DestinationView> =>
  thenRefresh('destinations', ask('/api/destinations', { method: 'POST', body: wish }));
export const editDestination = (place: DestinationView, change: EditDestination): Promise<DestinationView> =>
  thenRefresh(
    'destinations',
    ask(`/api/destinations/${place.id}`, { method: 'PATCH', version: place.version, body: change }),
  );
export const deleteDestination = (place: DestinationView): Promise<void> =>
  thenRefresh('destinations', ask(`/api/destinations/${place.id}`, { method: 'DELETE' }));
export const showAddress = (place: DestinationView): Promise<DestinationAddress> =>
  ask(`/api/destinations/${place.id}/address`, { method: 'POST' });

/** Leaves a place out of one event for now, or takes it in again. */
export const pausePlace = (eventId: string, destinationId: string, paused: boolean): Promise<EventView> =>
  took(ask(`/api/events/${eventId}/places/${destinationId}`, { method: 'POST', body: { paused } }));

/** Takes back what this person last did to something. */
export async function undoLast(subjectId: string): Promise<void> {
  await ask('/api/happenings/undo-last', { method: 'POST', body: { subjectId } });
  refreshAll();
}

export async function undoHappening(id: string): Promise<void> {
  await ask(`/api/happenings/${id}/undo`, { method: 'POST' });
  refreshAll();
}

export const editRecording = (recording: RecordingView, change: EditRecording): Promise<RecordingView> =>
  thenRefresh(
    'recordings',
    ask(`/api/recordings/${recording.id}`, { method: 'PATCH', version: recording.version, body: change }),
  );
export const binRecording = (id: string): Promise<RecordingView> =>
  thenRefresh('recordings', ask(`/api/recordings/${id}/bin`, { method: 'POST' }));
export const restoreRecording = (id: string): Promise<RecordingView> =>
  thenRefresh('recordings', ask(`/api/recordings/${id}/restore`, { method: 'POST' }));
export const deleteRecording = (id: string): Promise<void> =>
  thenRefresh('recordings', ask(`/api/recordings/${id}`, { method: 'DELETE' }));

export function setRecordingPoster(id: string, picture: Blob): Promise<RecordingView> {
  const form = new FormData();
  form.set('poster', picture, 'poster.jpg');
  return thenRefresh('recordings', ask(`/api/recordings/${id}/poster`, { method: 'POST', form }));
}

/** An answer, once what a path shows has been asked for anew. */
export async function thenAskAgain<T>(path: string, answer: Promise<T>): Promise<T> {
  const value = await answer;
  await mutate(path);
  return value;
}

export const invitePerson = (wish: InvitePerson): Promise<void> =>
  thenAskAgain('/api/invitations', ask('/api/invitations', { method: 'POST', body: wish }));
export const withdrawInvitation = (id: string): Promise<void> =>
  thenAskAgain('/api/invitations', ask(`/api/invitations/${id}`, { method: 'DELETE' }));
export const setRoles = (id: string, roles: readonly Role[]): Promise<PersonView> =>
  thenAskAgain('/api/people', ask(`/api/people/${id}`, { method: 'PATCH', body: { roles } }));
export const removePerson = (id: string): Promise<void> =>
  thenAskAgain('/api/people', ask(`/api/people/${id}`, { method: 'DELETE' }));
export const endSession = (id: string): Promise<void> =>
  thenAskAgain('/api/own/sessions', ask(`/api/own/sessions/${id}`, { method: 'DELETE' }));
export const makeToken = (wish: MakeToken): Promise<MadeToken> =>
  thenAskAgain('/api/own/tokens', ask('/api/own/tokens', { method: 'POST', body: wish }));
export const endToken = (id: string): Promise<void> =>
  thenAskAgain('/api/own/tokens', ask(`/api/own/tokens/${id}`, { method: 'DELETE' }));
/** Makes one's calendar address, or a new one in place of the old. @param path - of `ownCalendarPath` */
export const renewCalendar = (path: string): Promise<OwnCalendar> =>
  thenAskAgain(path, ask(path, { method: 'POST' }));
export const endCalendar = (path: string): Promise<void> =>
  thenAskAgain(path, ask(path, { method: 'DELETE' }));
async function thenShowOrder(path: string, answer: Promise<OrderView>): Promise<OrderView> {
  const view = await answer;
  await mutate(path, view, { revalidate: false });
  return view;
}
/** Writes the order sheet of an event or a series. */
export const writeOrder = (path: string, version: number, items: WriteOrder['items']): Promise<OrderView> =>
  thenShowOrder(path, ask(path, { method: 'PUT', version, body: { items } }));
/** An event shows its series' order again. */
export const dropOwnOrder = (path: string): Promise<OrderView> =>
  thenShowOrder(path, ask(path, { method: 'DELETE' }));
/** Moves the order on to an item; `null`: by its times again. */
export const moveOrder = (eventId: string, itemId: string | null): Promise<OrderView> =>
  thenShowOrder(
    `/api/events/${eventId}/order`,
    ask(`/api/events/${eventId}/order/present`, { method: 'POST', body: { itemId } }),
  );
/** Says whether one can come; at one's own path, or at that of a letter. */
export async function answerDuty(path: string, wish: AnswerDuty): Promise<void> {
  await mutate(path, ask<OwnDuties>(path, { method: 'POST', body: wish }), { revalidate: false });
  refreshTopic('events');
}
export const renewDutiesAddress = (): Promise<OwnDuties> =>
  thenAskAgain('/api/own/duties', ask('/api/own/duties/address', { method: 'POST' }));
export const chooseLetters = (wish: OwnLetters): Promise<OwnLetters> =>
  thenAskAgain('/api/own/letters', ask('/api/own/letters', { method: 'PATCH', body: wish }));
export const offerSecondFactor = (): Promise<SecondFactorOffer> =>
  ask('/api/own/second-factor', { method: 'POST' });
export const confirmSecondFactor = (code: string): Promise<{ recoveryCodes: string[] }> =>
  thenAskAgain('/api/session', ask('/api/own/second-factor/confirm', { method: 'POST', body: { code } }));
export const removeSecondFactor = (code: string): Promise<void> =>
  thenAskAgain('/api/session', ask('/api/own/second-factor/remove', { method: 'POST', body: { code } }));
export const editHouse = (house: HouseView, change: EditHouse): Promise<HouseView> =>
  thenAskAgain('/api/house', ask('/api/house', { method: 'PATCH', version: house.version, body: change }));
export const deleteHouse = (wish: DeleteHouse): Promise<void> =>
  ask('/api/house', { method: 'DELETE', body: wish });
export async function switchHouse(houseId: string): Promise<void> {
  await ask('/api/session/house', { method: 'POST', body: { houseId } });
  location.assign('/');
}

import { expect, test } from '@playwright/test';
import type { SignalReportView } from '@heliphon/contracts/signal';
import type { FaultKind } from '@heliphon/core/faults/fault';
import { access, api, hold, signIn, standin } from './house.js';
import { addSource, own, planEvent, type SourceView, stateOf } from './own-event.js';
import { beginWatching, playsOn, whatWasSeen } from './viewer-watch.js';

/** At the platform: the stream of "Coast relay". */
const RELAY = 'lantern-quay-2';
const encoder = (source: SourceView, action: string, order: object = {}) =>
  standin(`/encoders/${encodeURIComponent(source.name)}/${action}`, order);
const startEncoder = async (source: SourceView): Promise<unknown> =>
  encoder(source, 'start', await api<object>(`/sources/${source.id}/key`));
interface Received {
  readonly streamName: string;
  readonly isLive: boolean;
  readonly connections: number;
}
const relay = async (): Promise<Omit<Received, 'streamName'>> =>
  (await standin<Received[]>('/platform/streams')).find(({ streamName }) => streamName === RELAY) ?? {
    isLive: false,
    connections: 0,
  };

test('from doors to end, whatever breaks: the picture goes on, and the report has every cause', async ({
  page: desk,
  browser,
}) => {
  const [nave, gallery] = [await addSource(own('Nave')), await addSource(own('Gallery'))];
  const event = await planEvent(own('Harvest thanksgiving'), nave.id);
  const { items: places } = await api<{ items: { id: string; name: string }[] }>('/destinations?limit=100');
  const version = async (): Promise<number> =>
    (await api<{ version: number }>(`/events/${event.id}`)).version;
  const change = async (body: object): Promise<void> => {
    const headers = { 'if-match': `"${await version()}"` };
    await api(`/events/${event.id}`, { method: 'PATCH', headers, body: JSON.stringify(body) });
  };
  await change({ destinationIds: places.filter(({ name }) => name === 'Coast relay').map(({ id }) => id) });
  await startEncoder(nave);
  await signIn(desk);
  await desk.goto(`${access.console}/events/${event.id}/air`);
  await desk.getByRole('button', { name: 'Open the doors' }).click();
  await expect(desk.getByText('People see the countdown', { exact: false })).toBeVisible();
  await hold(desk, 'Go on air: hold', async () => (await stateOf(event.id)) === 'air');
  const sees = (source: SourceView) =>
    expect(desk.getByText(`Viewers see the ${source.name}.`)).toBeVisible();
  await sees(nave);
  await expect.poll(async () => (await relay()).isLive).toBe(true);
  const viewer = await (await browser.newContext()).newPage();
  await viewer.goto(`${access.console}/watch/${event.slug}`);
  await expect(viewer.getByRole('group', { name: /Player/ })).toHaveAttribute('data-state', 'playing');
  await beginWatching(viewer);
  let countedMs = 0;
  /** The viewer's page plays on by itself, and never goes back. */
  const playedOn = async (): Promise<void> => {
    await playsOn(viewer, 3);
    const { setBacks, slateMs } = await whatWasSeen(viewer);
    expect(setBacks).toBe(0);
    countedMs += slateMs;
  };

  await test.step('the encoder is cut until it is plugged in again', async () => {
    const { connections } = await relay();
    await encoder(nave, 'drop', { seconds: null });
    await expect(desk.getByText('Viewers see the slate.')).toBeVisible();
    await playsOn(viewer, 25);
    await encoder(nave, 'plug-in');
    await sees(nave);
    await playedOn();
    expect((await relay()).connections).toBe(connections);
  });

  await test.step('it comes back at another size, and at its own again', async () => {
    await encoder(nave, 'fault', { fault: 'other size' });
    await expect(desk.getByText('640 × 360', { exact: false }).first()).toBeVisible();
    await sees(nave);
    await encoder(nave, 'fault', { fault: 'none' });
    await expect(desk.getByText('1280 × 720', { exact: false }).first()).toBeVisible();
    await sees(nave);
    await playedOn();
  });

  await test.step('the second source takes over, and gives back', async () => {
    await startEncoder(gallery);
    await change({ standbySourceId: gallery.id });
    const standby = desk.getByRole('region', { name: `${gallery.name} stands by` });
    await expect(standby.getByRole('button')).toBeEnabled();
    await encoder(nave, 'stop');
    await sees(gallery);
    await startEncoder(nave);
    await sees(nave);
    await playedOn();
  });

  await test.step('the media node is killed', async () => {
    const { connections } = await relay();
    const { media } = access.processes;
    process.kill(media, 'SIGKILL');
    await expect.poll(async () => (await relay()).connections).toBeGreaterThan(connections);
    await sees(nave);
    // One new session for each node that has had it since.
    const { items } = await api<{ items: { kind: string }[] }>(`/happenings?subjectId=${event.id}`);
    const moves = items.filter(({ kind }) => kind === 'event-went-over').length;
    expect((await relay()).connections).toBeLessThanOrEqual(connections + Math.max(1, moves));
    await playedOn();
  });

  await test.step('a place refuses, and takes it again', async () => {
    await standin(`/platform/${RELAY}/mode`, { mode: 'refuse' });
    await expect(desk.getByText('Coast relay did not accept our key.')).toBeVisible();
    await standin(`/platform/${RELAY}/mode`, { mode: 'accept' });
    await expect(desk.getByRole('region', { name: 'Where it goes' })).toContainText(
      /Coast relay\s*going out/,
    );
    await playedOn();
  });

  await test.step('it ends, and the report names all five causes with what they cost', async () => {
    await hold(desk, 'End for everyone: hold', async () => (await stateOf(event.id)) === 'kept');
    for (const source of [nave, gallery]) await encoder(source, 'stop');
    const { report } = await api<SignalReportView>(`/events/${event.id}/signal-report`);
    const kinds = new Set(report.faults.map(({ kind }) => kind));
    const causes: FaultKind[] = ['encoder-gone', 'format-changed', 'took-over', 'node-away', 'place-refused'];
    for (const kind of causes) expect(kinds).toContain(kind);
    // One person watched all the time: what it cost is what that person had.
    const costMs = report.faults.reduce((sum, { viewerMs }) => sum + viewerMs, 0);
    expect(costMs).toBeGreaterThan(20_000);
    expect(Math.abs(costMs - countedMs)).toBeLessThan(0.25 * costMs);
  });
});

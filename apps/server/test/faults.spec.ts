import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { type Fault, NOTICED_NOTHING } from '@heliphon/core/faults/fault';
import type { EventView } from '@heliphon/contracts/events';
import type { Page } from '@heliphon/contracts/problem';
import type { SignalView } from '@heliphon/contracts/signal';
import type { SourceView } from '@heliphon/contracts/sources';
import type { MailBox } from '../../standins/src/mail/mail-box.js';
import {
  type HouseClient,
  type NodeClient,
  QUIET,
  type ServerDriver,
  startWithMail,
  until,
} from './driver.js';

let server: ServerDriver;
let mail: MailBox;
let stop: () => Promise<void>;
let node: NodeClient;
let house: HouseClient;
let seq = 0;
beforeAll(async () => {
  ({ server, mail, stop } = await startWithMail());
  node = await server.dialAsNode();
  house = await server.house('producer');
});
afterAll(async () => {
  node.close();
  await stop();
});

/** On air since two minutes ago, with a source. */
async function onAir(over?: object): Promise<{ event: EventView; source: SourceView }> {
  const source = await house.source('Pier camera');
  const planned = await house.event(60, 120, source.id);
  if (over) await house.patch<EventView>(`/api/events/${planned.id}`, planned.version, over);
  const doorsAtMs = Date.now() - 120_000;
  const life = { state: 'air', doorsAtMs, airAtMs: doorsAtMs } as const;
  seq += 1;
  node.observe(seq, { kind: 'programme-moved', programmeId: planned.programmeId, life, atMs: doorsAtMs });
  await until(() => node.storedSeq === seq, 'it being on air');
  return { event: planned, source };
}
const faultOf = ({ id }: SourceView, over: Partial<Fault> = {}): Fault => ({
  kind: 'encoder-gone',
  subjectId: id,
  detail: { ending: 'connection-broke' },
  fromMs: Date.now() - 30_000,
  toMs: null,
  noticed: NOTICED_NOTHING,
  viewerMs: 0,
  ...over,
});
async function tell({ programmeId }: EventView, fault: Fault): Promise<void> {
  seq += 1;
  node.observe(seq, { kind: 'fault', programmeId, fault, atMs: Date.now() });
  await until(() => node.storedSeq === seq, 'the fault being stored');
}
const faults = async ({ id }: EventView): Promise<readonly Fault[]> =>
  (await house.get<SignalView>(`/api/events/${id}/signal`)).body.faults;
const keepTelling = ({ programmeId }: EventView, ...open: Fault[]): void =>
  node.keepReporting({ programmes: [{ ...QUIET, programmeId, faults: open }] });

describe('a fault', () => {
  test('is written down once when it begins, and its end and cost with it', async () => {
    const { event, source } = await onAir();
    const open = faultOf(source);
    const over = {
      ...open,
      toMs: open.fromMs + 12_000,
      noticed: { ...NOTICED_NOTHING, slateMs: 10_500 },
      viewerMs: 94_500,
    };
    keepTelling(event);
    await tell(event, open);
    await tell(event, over);
    expect(await faults(event)).toEqual([over]);
    // Told once more of its beginning, as after a break of the line, it stays over.
    await tell(event, open);
    expect(await faults(event)).toEqual([over]);
  });

  test('that is open is shown with what it has cost by now', async () => {
    const { event, source } = await onAir();
    const open = faultOf(source);
    const now = { ...open, noticed: { ...NOTICED_NOTHING, slateMs: 8000 }, viewerMs: 80_000 };
    await tell(event, open);
    keepTelling(event, now);
    await until(async () => (await faults(event))[0]?.viewerMs === 80_000, 'what it costs');
    expect(await faults(event)).toEqual([now]);
  });

  test('that a restarted node has forgotten ends when it was last reported', async () => {
    const { event, source } = await onAir();
    const open = faultOf(source, { viewerMs: 7000 });
    keepTelling(event, open);
    await tell(event, open);
    await until(async () => (await faults(event))[0]?.viewerMs === 7000, 'it being open');
    keepTelling(event);
    const [ended] = await until(async () => {
      const told = await faults(event);
      return told[0]!.toMs !== null && told;
    }, 'its end');
    expect(ended!.toMs!).toBeGreaterThan(open.fromMs);
    expect(ended!.viewerMs).toBe(7000);
  });

  test('of a node that fell costs those who watched last', async () => {
    const { event } = await onAir();
    const { programmeId } = event;
    const fellAtMs = Date.now();
    node.report({ atMs: fellAtMs - 1000, programmes: [{ ...QUIET, programmeId, viewers: 12 }] });
    const noticed = { ...NOTICED_NOTHING, nothingMs: 4000 };
    const fell = {
      kind: 'node-away',
      subjectId: '',
      detail: {},
      fromMs: fellAtMs,
      toMs: fellAtMs + 4000,
      noticed,
      viewerMs: 0,
    } as const;
    await tell(event, fell);
    expect((await faults(event))[0]).toMatchObject({ kind: 'node-away', viewerMs: 48_000 });
  });

  test('of another house is not to be seen', async () => {
    const { event } = await onAir();
    const other = await server.house('producer');
    expect((await other.get(`/api/events/${event.id}/signal`)).status).toBe(404);
    expect((await other.get(`/api/events/${event.id}/signal.csv`)).status).toBe(404);
  });

  test.each([
    ['?everyMs=1', 'everyMs'],
    ['?lastMs=-5', 'lastMs'],
    ['?fromMs=0', 'fromMs'],
  ])('is not asked for with %s', async (query, field) => {
    const { event } = await onAir();
    const { status, body } = await house.get<{ fields: { path: string }[] }>(
      `/api/events/${event.id}/signal${query}`,
    );
    expect([status, body.fields.map(({ path }) => path)]).toEqual([422, [field]]);
  });
});

describe('the people on duty', () => {
  test('are written to once a fault has lasted for a minute, and not for each of several', async () => {
    const helper = await server.member(house.houseId, 'operator');
    const people = (await house.get<Page<{ id: string; email: string }>>('/api/people')).body.items;
    const personId = people.find(({ email }) => email === helper.email)!.id;
    const { event, source } = await onAir({ title: 'Evensong', duties: [{ duty: 'operator', personId }] });
    const lettersTo = () =>
      mail.letters.filter(({ to, subject }) => to === helper.email && subject.startsWith('Evensong'));
    const old = faultOf(source, { fromMs: Date.now() - 61_000 });
    const fresh = faultOf(source, { kind: 'too-loud', detail: {} });
    keepTelling(event, old, fresh);
    await tell(event, fresh);
    await tell(event, old);
    const letter = await until(() => lettersTo()[0], 'the letter');
    expect(letter.subject).toBe('Evensong: Pier camera has lost its connection.');
    expect(letter.text).toContain('What helps: Check its internet line.');
    expect(letter.text).toContain('The sound is too loud.');
    expect(letter.text).toContain(`/events/${event.id}/air`);

    // Both were told: nothing more is due, also when the second has lasted as long.
    await server.setClock(120_000);
    const witness = await onAir({ title: 'Evensong again', duties: [{ duty: 'operator', personId }] });
    const other = faultOf(witness.source, { fromMs: Date.now() });
    await tell(witness.event, other);
    await until(
      () => lettersTo().some(({ subject }) => subject.startsWith('Evensong again')),
      'another letter',
    );
    expect(lettersTo()).toHaveLength(2);
    await server.setClock(0);
  });
});

import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { chooseNode, type NodeAtHand, type NodePresence, pointOf } from '../src/nodes/choose-node.js';
import { nearestPoint, rankPoints, roundTripsTo } from '../src/nodes/nearest-point.js';

const node = (nodeId: string, presence: NodePresence = 'here', disk: NodeAtHand['disk'] = 'plenty') => ({
  nodeId,
  presence,
  disk,
});

describe('where a source is to send', () => {
  test('to the point chosen for it, also while that is silent for a moment', () => {
    expect(pointOf('hill', [node('quay'), node('hill')])).toBe('hill');
    expect(pointOf('hill', [node('quay'), node('hill', 'silent')])).toBe('hill');
  });
  test('where nobody chose: to the first that was taken in, however long the others have been here', () => {
    expect(pointOf(null, [node('quay', 'silent'), node('hill')])).toBe('quay');
  });
  test('past a point that has gone, and past a full disk while there is another', () => {
    expect(pointOf('quay', [node('quay', 'away'), node('hill'), node('mill')])).toBe('hill');
    expect(pointOf('quay', [node('quay', 'away'), node('hill', 'here', 'full'), node('mill')])).toBe('mill');
    expect(pointOf('quay', [node('quay', 'away'), node('hill', 'here', 'full')])).toBe('hill');
  });
  test('where nobody is here, the address stays as it was; without any node there is none', () => {
    expect(pointOf('hill', [node('quay', 'away'), node('hill', 'away')])).toBe('hill');
    expect(pointOf(null, [])).toBeNull();
  });
});

describe('where an event runs', () => {
  const both = [node('quay'), node('hill')];

  test('before its doors it waits where its source arrives, else where it would', () => {
    expect(chooseNode({ at: null, point: 'quay', arrivesAt: ['hill'] }, both)).toBe('hill');
    expect(chooseNode({ at: null, point: 'hill', arrivesAt: [] }, both)).toBe('hill');
    expect(chooseNode({ at: null, point: 'hill', arrivesAt: ['quay', 'hill'] }, both)).toBe('hill');
  });
  test('then it stays, whatever is chosen for its source', () => {
    expect(chooseNode({ at: 'quay', point: 'hill', arrivesAt: [] }, both)).toBe('quay');
    expect(chooseNode({ at: 'quay', point: 'hill', arrivesAt: ['quay', 'hill'] }, both)).toBe('quay');
  });
  test('it follows its source to another node, but not away from where that arrives', () => {
    expect(chooseNode({ at: 'quay', point: 'quay', arrivesAt: ['hill'] }, both)).toBe('hill');
  });
  test('a node that is silent for a moment keeps it, one that has gone does not', () => {
    const event = { at: 'quay', point: 'quay', arrivesAt: [] };
    expect(chooseNode(event, [node('quay', 'silent'), node('hill')])).toBe('quay');
    expect(chooseNode(event, [node('quay', 'away'), node('hill')])).toBe('hill');
  });
  test('from a node that has gone it goes to the point of its source where that is another', () => {
    const nodes = [node('mill'), node('quay', 'away'), node('hill')];
    expect(chooseNode({ at: 'quay', point: 'hill', arrivesAt: [] }, nodes)).toBe('hill');
  });
  test('a node that was taken out of the installation counts as gone', () => {
    expect(chooseNode({ at: 'tower', point: null, arrivesAt: [] }, both)).toBe('quay');
  });
  test('the word of a node that has gone does not count any more', () => {
    const nodes = [node('quay', 'away'), node('hill')];
    expect(chooseNode({ at: 'hill', point: 'quay', arrivesAt: ['quay'] }, nodes)).toBe('hill');
  });

  const ids = ['quay', 'hill', 'mill'];
  const anyNodes = fc
    .tuple(...ids.map(() => fc.constantFrom<NodePresence>('here', 'silent', 'away')))
    .map((presences) => presences.map((presence, index) => node(ids[index]!, presence)));
  const anyId = fc.option(fc.constantFrom(...ids), { nil: null });

  test('having moved it stays: the same question asked of its new place has the same answer', () => {
    fc.assert(
      fc.property(anyNodes, anyId, anyId, fc.subarray(ids), (nodes, at, point, arrivesAt) => {
        const once = chooseNode({ at, point, arrivesAt }, nodes);
        expect(chooseNode({ at: once, point, arrivesAt }, nodes)).toBe(once);
      }),
    );
  });
  test('while nobody is here nothing that runs moves', () => {
    fc.assert(
      fc.property(fc.constantFrom(...ids), anyId, fc.subarray(ids), (at, point, arrivesAt) => {
        const nodes = ids.map((id) => node(id, 'away'));
        expect(chooseNode({ at, point, arrivesAt }, nodes)).toBe(at);
      }),
    );
  });
});

describe('the nearest point', () => {
  const measured = (pointId: string, ...roundTripsMs: number[]) => ({ pointId, roundTripsMs });

  test('goes by the shortest that was measured: a busy moment makes nothing farther away', () => {
    const ranked = rankPoints([measured('quay', 41, 40, 45), measured('hill', 12, 140, 300)]);
    expect(ranked).toEqual([
      { pointId: 'hill', roundTripMs: 12 },
      { pointId: 'quay', roundTripMs: 40 },
    ]);
  });
  test('is measured by asking again and again; the first question opens the way and does not count', async () => {
    let nowMs = 0;
    const waits = [300, 12, 11, 13, 12, 40];
    const ask = (): Promise<boolean> => {
      nowMs += waits.shift()!;
      return Promise.resolve(true);
    };
    expect(await roundTripsTo(ask, () => nowMs)).toEqual([12, 11, 13, 12, 40]);
  });
  test('one that leaves a question unanswered has not been reached', async () => {
    let asked = 0;
    const ask = (): Promise<boolean> => Promise.resolve((asked += 1) < 4);
    expect(await roundTripsTo(ask, () => 0)).toEqual([]);
    expect(asked).toBe(4);
  });
  test('points that nobody reached stand last and are never the nearest', () => {
    const points = [measured('quay'), measured('hill', 90, 95)];
    expect(rankPoints(points).map(({ pointId }) => pointId)).toEqual(['hill', 'quay']);
    expect(nearestPoint(points, 'quay')).toBe('hill');
    expect(nearestPoint([measured('quay'), measured('hill')], null)).toBeNull();
  });
  test.each([
    ['a hair nearer', [measured('quay', 20), measured('hill', 17)], 'quay'],
    ['a little nearer from far away', [measured('quay', 100), measured('hill', 92)], 'quay'],
    ['clearly nearer', [measured('quay', 40), measured('hill', 12)], 'hill'],
  ])('one that is %s than the present one: %s', (_name, points, nearest) => {
    expect(nearestPoint(points, 'quay')).toBe(nearest);
  });
  test('without a present one the nearest is taken as it is', () => {
    expect(nearestPoint([measured('quay', 20), measured('hill', 19)], null)).toBe('hill');
  });
});

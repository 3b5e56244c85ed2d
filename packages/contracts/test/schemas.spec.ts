import { EVENT_SETTINGS } from '@heliphon/core/schedule/event-settings';
import { describe, expect, test } from '@jest/globals';
import type Joi from 'joi';
import type { DesiredState } from '@heliphon/core/control/desired-state';
import { activityQuerySchema, undoLastSchema } from '../src/activity.schema.js';
import { joinChatSchema, postMessageSchema } from '../src/chat.schema.js';
import type { NodeSelf } from '@heliphon/core/control/observations';
import { desiredStateSchema, nodeMessageSchema, serverMessageSchema } from '../src/control.schema.js';
import { addDestinationSchema, editDestinationSchema } from '../src/destinations.schema.js';
import { EVENT_LIMITS } from '../src/events.js';
import { editEventSchema, moveEventSchema, planEventSchema, slugSchema } from '../src/events.schema.js';
import { deleteHouseSchema, editHouseSchema } from '../src/house.schema.js';
import { PASSWORD_LENGTH, TOKEN_DAYS } from '../src/people.js';
import {
  acceptInvitationSchema,
  codeSchema,
  invitePersonSchema,
  makeTokenSchema,
  signInSchema,
} from '../src/people.schema.js';
import { editRecordingSchema } from '../src/recordings.schema.js';
import { DEVICE } from '../src/sources.js';
import { addSourceSchema, editSourceSchema } from '../src/sources.schema.js';

const ID = '0198a000-0000-7000-8000-000000000001';

/** Which fields of a value a schema finds wrong. */
function wrongIn(schema: Joi.Schema, value: unknown): string[] {
  const { error } = schema.validate(value, { abortEarly: false });
  return (error?.details ?? []).map((detail) => detail.path.join('.'));
}

describe('planning an event', () => {
  const wish = {
    title: 'Evensong',
    startsAtLocal: '2026-03-07T19:00',
    stopsAtLocal: '2026-03-07T19:45',
    sourceId: null,
  };
  test('needs a title and two local times', () => {
    expect(wrongIn(planEventSchema, wish)).toEqual([]);
    expect(wrongIn(planEventSchema, {}).sort()).toEqual(['startsAtLocal', 'stopsAtLocal', 'title']);
  });
  test('a source may be chosen later', () => {
    const { sourceId: _, ...without } = wish;
    expect(planEventSchema.validate(without).value).toMatchObject({ sourceId: null });
  });
  test.each([
    ['a title of spaces', { title: '   ' }, 'title'],
    ['a title beyond its length', { title: 'a'.repeat(EVENT_LIMITS.titleLength + 1) }, 'title'],
    ['a time with a zone', { startsAtLocal: '2026-03-07T19:00Z' }, 'startsAtLocal'],
    ['a day alone', { stopsAtLocal: '2026-03-07' }, 'stopsAtLocal'],
    ['a source that is no identifier', { sourceId: 'pier' }, 'sourceId'],
    ['something unheard of', { colour: 'red' }, 'colour'],
  ])('%s is refused', (_name, over, field) => {
    expect(wrongIn(planEventSchema, { ...wish, ...over })).toEqual([field]);
  });
});

describe('editing an event', () => {
  test('any part of it may be given, but not nothing', () => {
    expect(wrongIn(editEventSchema, { chatOpen: false })).toEqual([]);
    expect(wrongIn(editEventSchema, { description: '' })).toEqual([]);
    expect(editEventSchema.validate({}).error).toBeDefined();
  });
  test.each([
    ['doorsMinutes', -1],
    ['doorsMinutes', EVENT_SETTINGS.doorsMinutes.most + 1],
    ['overrunMinutes', 2.5],
    ['deadAirMinutes', 0],
    ['rewindMinutes', EVENT_SETTINGS.rewindMinutes.most + 1],
    ['description', 'a'.repeat(EVENT_LIMITS.descriptionLength + 1)],
  ])('%s of %s is refused', (field, value) => {
    expect(wrongIn(editEventSchema, { [field]: value })).toEqual([field]);
  });
  test('no place is named twice', () => {
    expect(wrongIn(editEventSchema, { destinationIds: [ID, ID] })).toEqual(['destinationIds.1']);
  });
  test.each(['Evensong', 'even song', '-evensong', 'evensong-', 'even--song', 'évensong', ''])(
    '“%s” is no address',
    (slug) => {
      expect(slugSchema.validate(slug).error).toBeDefined();
    },
  );
  test('letters, figures and single hyphens are one', () => {
    expect(slugSchema.validate('lamplight-evensong-2').error).toBeUndefined();
  });
});

describe('commands', () => {
  test('carry an identifier and the state they were given in', () => {
    expect(wrongIn(moveEventSchema, { commandId: ID, fromState: 'doors' })).toEqual([]);
    expect(wrongIn(moveEventSchema, { commandId: '1', fromState: 'open' }).sort()).toEqual([
      'commandId',
      'fromState',
    ]);
  });
});

describe('people', () => {
  test('sign in by email, in small letters and without spaces around it', () => {
    expect(signInSchema.validate({ email: '  Ines@Quay.Example ', password: 'x' }).value).toEqual({
      email: 'ines@quay.example',
      password: 'x',
    });
    expect(wrongIn(signInSchema, { email: 'ines', password: 'x' })).toEqual(['email']);
  });
  test('a password keeps its spaces', () => {
    expect(signInSchema.validate({ email: 'a@b.example', password: ' x ' }).value).toMatchObject({
      password: ' x ',
    });
  });
  test('join a chat only by accepting its rules', () => {
    expect(wrongIn(joinChatSchema, { name: 'Sib', acceptsRules: true })).toEqual([]);
    expect(wrongIn(joinChatSchema, { name: 'Sib', acceptsRules: false })).toEqual(['acceptsRules']);
    expect(wrongIn(joinChatSchema, { name: 'Sib' })).toEqual(['acceptsRules']);
  });
  test('a message has an identifier of its own; absurd lengths do not get in at all', () => {
    expect(wrongIn(postMessageSchema, { text: 'a'.repeat(10_000), messageId: ID })).toEqual([]);
    expect(wrongIn(postMessageSchema, { text: 'a'.repeat(100_000), messageId: ID })).toEqual(['text']);
    expect(wrongIn(postMessageSchema, { text: 'Hello' })).toEqual(['messageId']);
  });
});

describe('sources and places', () => {
  test('have names', () => {
    expect(wrongIn(addSourceSchema, { name: '' })).toEqual(['name']);
    expect(addSourceSchema.validate({ name: ' Pier ' }).value).toEqual({
      ...DEVICE,
      name: 'Pier',
      hasPassword: false,
      nodeId: null,
    });
    expect(wrongIn(editSourceSchema, { name: 'a'.repeat(61) })).toEqual(['name']);
    expect(editSourceSchema.validate({}).error).toBeDefined();
  });
  test('name an ingest point by what travels in a header', () => {
    expect(wrongIn(editSourceSchema, { nodeId: 'hill-house' })).toEqual([]);
    expect(wrongIn(editSourceSchema, { nodeId: null })).toEqual([]);
    expect(wrongIn(editSourceSchema, { nodeId: 'hill house' })).toEqual(['nodeId']);
  });
  test('an address gets in as it was pasted; core says what is wrong with it', () => {
    expect(wrongIn(addDestinationSchema, { name: 'Relay', address: 'no address at all' })).toEqual([]);
    expect(wrongIn(addDestinationSchema, { name: 'Relay' })).toEqual(['']);
    expect(wrongIn(editDestinationSchema, { name: 'Relay' })).toEqual([]);
  });
});

describe('the control link', () => {
  const state: DesiredState = {
    revision: 1,
    issuedAtMs: 1,
    clockOffsetMs: 0,
    grantKeys: [{ keyId: 'k1', secretBase64: 'c2VjcmV0' }],
    sources: [
      {
        sourceId: ID,
        user: 'box',
        keySha256Hex: 'ab'.repeat(32),
        password: null,
        lines: [],
        srt: null,
        followsProgrammeId: null,
        grantsValidFromMs: 0,
      },
    ],
    binnedRecordings: [],
    guardedReplays: [],
    grantTurns: {},
    recordingsWithGaps: [],
    removedRecordings: [],
    elsewhere: [],
    joins: [],
    clips: [{ clipId: ID, houseId: ID, programmeId: ID, fromUtcMs: 1, toUtcMs: 2 }],
    programmes: [
      {
        programmeId: ID,
        houseId: ID,
        sourceId: null,
        plan: { doorsAtMs: 1, airAtMs: 2, stopAtMs: 3, hardStopAtMs: 4, deadAirMs: 5 },
        command: null,
        rewindWindowMs: 600_000,
        slate: null,
        renditions: 'off',
        keepsRenditions: true,
        takenOver: null,
        standby: null,
        film: null,
        grantsValidFromMs: { public: 0, desk: 0 },
        destinations: [{ destinationId: ID, address: 'rtmp://a/b/c', rendition: null }],
      },
    ],
  };

  const self: NodeSelf = {
    place: 'Hill House',
    mediaUrl: 'https://hill.example',
    rtmpUrl: null,
    rtmpsUrl: null,
    mediaPort: 4610,
    rtmpPort: 1935,
    srtFirstPort: 4640,
  };
  test.each<[string, object, boolean]>([
    ['its place and ports', {}, true],
    ['no place', { place: null }, true],
    ['a place as long as a page', { place: 'x'.repeat(61) }, false],
    ['an address for players that is none for them', { mediaUrl: 'rtmp://hill.example' }, false],
    ['a port beyond all ports', { rtmpPort: 70_000 }, false],
  ])('a node says of itself %s', (_name, over, isTaken) => {
    const { error } = nodeMessageSchema.validate({ type: 'here', self: { ...self, ...over }, journalId: ID });
    expect(error === undefined).toBe(isTaken);
  });

  test('a newer server may say more; an older node keeps what it knows', () => {
    expect(desiredStateSchema.validate({ ...state, slates: [] }).error).toBeUndefined();
  });
  test.each([
    [
      'a key in place of its hash',
      { sources: [{ ...state.sources[0], keySha256Hex: 'the-key-itself' }] },
      'sources.0.keySha256Hex',
    ],
    [
      'a programme without its instants',
      { programmes: [{ ...state.programmes[0], plan: undefined }] },
      'programmes.0.plan',
    ],
    [
      'a house that is a path',
      { programmes: [{ ...state.programmes[0], houseId: '../..' }] },
      'programmes.0.houseId',
    ],
    ['a programme elsewhere that is none', { elsewhere: ['the chapel'] }, 'elsewhere.0'],
    [
      'a recording to be fetched from a file',
      { joins: [{ programmeId: ID, houseId: ID, nodeId: 'hill', address: 'file:///etc' }] },
      'joins.0.address',
    ],
    ['a clip that is a path', { clips: [{ ...state.clips[0], clipId: '../..' }] }, 'clips.0.clipId'],
    [
      'a command nobody knows',
      { programmes: [{ ...state.programmes[0], command: { commandId: 'c', kind: 'pause', atMs: 1 } }] },
      'programmes.0.command.kind',
    ],
  ])('%s is refused', (_name, over, field) => {
    expect(wrongIn(desiredStateSchema, { ...state, ...over })).toContain(field);
  });
  test('a server says what is wanted, or what is stored', () => {
    expect(serverMessageSchema.validate({ type: 'desired', state }).error).toBeUndefined();
    expect(serverMessageSchema.validate({ type: 'stored', journalSeq: 4 }).error).toBeUndefined();
    expect(serverMessageSchema.validate({ type: 'stored' }).error).toBeDefined();
  });

  const observed = (observation: object) => ({ type: 'observed', entries: [{ journalSeq: 1, observation }] });
  test.each([
    { kind: 'programme-moved', programmeId: ID, atMs: 1, life: { state: 'doors', doorsAtMs: 1 } },
    {
      kind: 'programme-moved',
      programmeId: ID,
      atMs: 1,
      life: { state: 'kept', doorsAtMs: 1, airAtMs: 2, endAtMs: 3, cause: 'dead-air' },
    },
    {
      kind: 'recording-kept',
      loudness: null,
      gapsMs: 0,
      programmeId: ID,
      durationMs: 5,
      sizeBytes: 6,
      atMs: 1,
    },
    { kind: 'source-refused', sourceId: null, reason: 'unknown-key', remoteAddress: '::1', atMs: 1 },
  ])('a node may tell %o', (observation) => {
    expect(nodeMessageSchema.validate(observed(observation)).error).toBeUndefined();
  });
  test.each([
    { kind: 'programme-moved', programmeId: ID, atMs: 1, life: { state: 'air' } },
    { kind: 'programme-moved', programmeId: ID, atMs: 1, life: { state: 'paused' } },
    {
      kind: 'recording-kept',
      loudness: null,
      gapsMs: 0,
      programmeId: ID,
      durationMs: -1,
      sizeBytes: 6,
      atMs: 1,
    },
    { kind: 'source-refused', sourceId: null, reason: 'I did not like it', remoteAddress: '::1', atMs: 1 },
  ])('and not %o', (observation) => {
    expect(nodeMessageSchema.validate(observed(observation)).error).toBeDefined();
  });
});

describe('people of a house', () => {
  const invitation = { email: 'Odo@Mill.Example ', name: ' Odo ', roles: ['operator'] };
  test('are invited by an address that is tidied', () => {
    expect(invitePersonSchema.validate(invitation).value).toEqual({
      email: 'odo@mill.example',
      name: 'Odo',
      roles: ['operator'],
    });
  });
  test.each([
    ['no role', { roles: [] }, 'roles'],
    ['a role twice', { roles: ['owner', 'owner'] }, 'roles.1'],
    ['a role that is none', { roles: ['bishop'] }, 'roles.0'],
    ['a name of spaces', { name: '  ' }, 'name'],
    ['an address without its host', { email: 'odo@' }, 'email'],
  ])('an invitation with %s is refused', (_name, over, field) => {
    expect(wrongIn(invitePersonSchema, { ...invitation, ...over })).toEqual([field]);
  });
  test('choose a password that is long enough; what it is made of is theirs', () => {
    const wish = { name: 'Odo', password: 'a'.repeat(PASSWORD_LENGTH.least) };
    expect(wrongIn(acceptInvitationSchema, wish)).toEqual([]);
    expect(wrongIn(acceptInvitationSchema, { ...wish, password: wish.password.slice(1) })).toEqual([
      'password',
    ]);
    expect(
      wrongIn(acceptInvitationSchema, { ...wish, password: 'a'.repeat(PASSWORD_LENGTH.most + 1) }),
    ).toEqual(['password']);
  });
  test('a token lasts as usual and does everything unless it is said otherwise', () => {
    expect(makeTokenSchema.validate({ name: 'Notice board' }).value).toEqual({
      name: 'Notice board',
      scopes: null,
      days: TOKEN_DAYS.usual,
    });
    const wish = { name: 'Notice board', scopes: ['events.read'], days: 30 };
    expect(wrongIn(makeTokenSchema, wish)).toEqual([]);
    expect(wrongIn(makeTokenSchema, { ...wish, scopes: ['everything'] })).toEqual(['scopes.0']);
    expect(wrongIn(makeTokenSchema, { ...wish, scopes: [] })).toEqual(['scopes']);
    expect(wrongIn(makeTokenSchema, { ...wish, days: TOKEN_DAYS.most + 1 })).toEqual(['days']);
    expect(wrongIn(makeTokenSchema, { ...wish, days: 1.5 })).toEqual(['days']);
  });
  test('a code is read with the spaces and capitals that telephones and people put in', () => {
    expect(codeSchema.validate({ code: ' 123456 ' }).value).toEqual({ code: '123456' });
    expect(codeSchema.validate({ code: 'ABCDE-FGHIJ' }).value).toEqual({ code: 'abcde-fghij' });
    expect(wrongIn(codeSchema, {})).toEqual(['code']);
  });
});

describe('the house and its recordings', () => {
  test.each([
    [{ name: '' }, ['name']],
    [{ rules: ' ' }, ['rules']],
    [{ rules: 'Be kind.' }, []],
    [{}, ['']],
  ])('an edit with %j is wrong in %j', (edit, fields) => {
    expect(wrongIn(editHouseSchema, edit)).toEqual(fields);
  });
  test('a house is deleted by its name and a password, nothing less', () => {
    expect(wrongIn(deleteHouseSchema, { name: 'Tide Mill Hall' })).toEqual(['password']);
    expect(wrongIn(deleteHouseSchema, {}).sort()).toEqual(['name', 'password']);
  });
  test('a recording’s description may be emptied, its title not', () => {
    expect(wrongIn(editRecordingSchema, { description: '' })).toEqual([]);
    expect(wrongIn(editRecordingSchema, { title: '' })).toEqual(['title']);
    expect(wrongIn(editRecordingSchema, {})).toEqual(['']);
  });
});

describe('the activity record', () => {
  test('is asked by one kind or by several', () => {
    expect(activityQuerySchema.validate({ kinds: 'event-edited' }).value).toEqual({
      kinds: ['event-edited'],
    });
    expect(activityQuerySchema.validate({ kinds: ['a', 'b'] }).value).toEqual({ kinds: ['a', 'b'] });
  });
  test('of a thing takes its identifier alone', () => {
    expect(wrongIn(activityQuerySchema, { subjectId: 'pier' })).toEqual(['subjectId']);
    expect(wrongIn(undoLastSchema, { subjectId: ID })).toEqual([]);
    expect(wrongIn(undoLastSchema, {})).toEqual(['subjectId']);
  });
});

describe('a place in parts', () => {
  const parts = { scheme: 'rtmps', host: 'live.quay.example', application: 'live', streamName: 'a-key' };
  test('comes whole or as one address, never both', () => {
    expect(wrongIn(addDestinationSchema, { name: 'Town page', parts })).toEqual([]);
    expect(wrongIn(addDestinationSchema, { name: 'Town page', address: 'rtmp://a/b/c', parts })).toEqual([
      '',
    ]);
    expect(wrongIn(addDestinationSchema, { name: 'Town page' })).toEqual(['']);
  });
  test.each([
    ['another scheme', { scheme: 'https' }, 'parts.scheme'],
    ['a port beyond the last', { port: 65_536 }, 'parts.port'],
    ['no host', { host: '' }, 'parts.host'],
    ['no application', { application: ' ' }, 'parts.application'],
  ])('with %s is refused at that part', (_name, over, field) => {
    const wish = { name: 'Town page', parts: { ...parts, ...over } };
    expect(wrongIn(addDestinationSchema, wish)).toEqual([field]);
  });
  test('is edited without its key, which stays', () => {
    const { streamName: _, ...without } = parts;
    expect(wrongIn(editDestinationSchema, { parts: without })).toEqual([]);
    expect(wrongIn(editDestinationSchema, {})).toEqual(['']);
  });
});

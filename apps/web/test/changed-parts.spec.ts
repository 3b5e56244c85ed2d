import { expect, test } from '@jest/globals';
import { inheritLook, USUAL_LOOK } from '@heliphon/core/appearance/look';
import { changedParts } from '../src/console/inherited/changed-parts.js';

const above = inheritLook([{ level: 'house', own: { accent: '#112233', foot: 'All welcome' } }]);
const kept = { own: { ground: '#fafafa', foot: '' }, above };

test('what is changed stands over what is kept, and that over what comes from above', () => {
  const { own, shown } = changedParts(kept, { ground: '#ffffff', cornerPx: 0 });
  expect(own).toEqual({ ground: '#ffffff', foot: '', cornerPx: 0 });
  expect(shown.value).toEqual({ ...USUAL_LOOK, accent: '#112233', ground: '#ffffff', foot: '', cornerPx: 0 });
});

test('what is taken back is as above again', () => {
  const { own, shown } = changedParts(kept, { foot: undefined });
  expect(own).toEqual({ ground: '#fafafa' });
  expect(shown.value.foot).toBe('All welcome');
});

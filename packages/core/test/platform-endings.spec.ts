import { expect, test } from '@jest/globals';
import { withoutEndings } from '../src/connectors/platform-endings.js';
import { type Fault, NOTICED_NOTHING } from '../src/faults/fault.js';

const fault = (kind: Fault['kind'], subjectId: string, fromMs: number): Fault => ({
  kind,
  subjectId,
  fromMs,
  toMs: fromMs + 5000,
  detail: {},
  noticed: NOTICED_NOTHING,
  viewerMs: 0,
});

test('a posting that its platform ended is no fault of the place; what else goes wrong there is', () => {
  const endings = [{ destinationId: 'quay', because: 'too-long', atMs: 100_000 }] as const;
  const itself = fault('place-closed', 'quay', 97_000);
  const others = [
    fault('place-closed', 'quay', 50_000),
    fault('place-refused', 'quay', 101_000),
    fault('place-closed', 'relay', 97_000),
    fault('encoder-gone', 'quay', 97_000),
  ];
  expect(withoutEndings([itself, ...others], endings)).toEqual(others);
});

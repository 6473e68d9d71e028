import { appendFileSync, existsSync, readFileSync } from 'node:fs';
import { afterEach, beforeEach, inject, vi } from 'vitest';

/**
 * Examples by chance that each property is tried on: the first few show a wrong change, and hundreds of changes are
 * tried.
 */
const EXAMPLES = 10;

vi.mock('fast-check', async (load) => {
  const real = (await load<typeof import('fast-check')>()).default;
  const assert: typeof real.assert = (property, options) =>
    real.assert(property as never, {
      ...(options as object),
      numRuns: Math.min(EXAMPLES, options?.numRuns ?? EXAMPLES),
    }) as never;
  return { ...real, assert, default: { ...real, assert } };
});

/**
 * Tests that took longer than this in the first run, in ms, are left out after it: what only they see counts as not
 * seen.
 */
const SLOW = 2_500;
const LIST = '.slow-tests';

if (inject('mode' as never) === 'dry-run') {
  let begun = 0;
  beforeEach(() => {
    begun = performance.now();
  });
  afterEach(({ task }) => {
    if (performance.now() - begun > SLOW) appendFileSync(LIST, `${task.name}\n`);
  });
} else {
  const slow = new Set(existsSync(LIST) ? readFileSync(LIST, 'utf8').split('\n') : []);
  beforeEach(({ task, skip }) => {
    if (slow.has(task.name)) skip();
  });
}

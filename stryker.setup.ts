import { vi } from 'vitest';

/** Examples by chance that each property is tried on: of a wrong change the first few tell, and hundreds of changes are tried. */
const EXAMPLES = 10;

vi.mock('fast-check', async (load) => {
  const real = (await load<typeof import('fast-check')>()).default;
  const assert: typeof real.assert = (property, options) =>
    real.assert(property as never, { ...(options as object), numRuns: Math.min(EXAMPLES, options?.numRuns ?? EXAMPLES) }) as never; // prettier-ignore
  return { ...real, assert, default: { ...real, assert } };
});

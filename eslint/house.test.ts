import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { arrowProblem, cycleThrough } from './house.js';

describe('the arrows of the house', () => {
  it.each([
    ['core/src/mesh/a.ts', './b.ts'],
    ['core/src/carve/a.ts', '../mesh/index.ts'],
    ['core/src/carve/kernel/a.ts', '../../mesh/index.ts'],
    ['web/src/a.ts', '@dusky-mason/core/mesh'],
    ['server/src/a.ts', 'express'],
    ['core/src/survey/a.test.ts', '../shapes/index.ts'],
    ['core/src/courses/kinds/a.ts', '../document/b.ts'],
    ['core/src/courses/kinds/a.ts', './b.ts'],
    ['core/src/courses/base/a.ts', '../../mesh/index.ts'],
    ['core/src/courses/index.ts', './evaluate/b.ts'],
    ['web/src/cards/a.vue', '../components/B.vue'],
    ['web/src/viewport/a.ts', '../tools/b.ts'],
    ['web/src/stores/a.test.ts', '../testing/b.ts'],
    ['web/src/main.ts', './viewport/b.ts'],
  ])('%s may import %s', (file, spec) => expect(arrowProblem('/r', `/r/${file}`, spec)).toBe(null));

  it.each([
    ['core/src/mesh/a.ts', '../carve/index.ts'],
    ['core/src/carve/a.ts', '../mesh/bvh.ts'],
    ['core/src/carve/a.ts', '../formats/index.ts'],
    ['core/src/mesh/a.ts', '../../../web/src/x.ts'],
    ['web/src/a.ts', '@dusky-mason/server/app'],
    ['e2e/a.ts', '@dusky-mason/core/mesh'],
    ['core/src/courses/document/a.ts', '../kinds/b.ts'],
    ['core/src/courses/base/a.ts', '../settings/b.ts'],
    ['core/src/courses/base/a.ts', '../index.ts'],
    ['web/src/components/A.vue', '../viewport/b.ts'],
    ['web/src/tools/a.ts', '../components/b.ts'],
    ['web/src/cards/A.vue', '../viewport/b.ts'],
    ['web/src/stores/a.ts', '../router.ts'],
  ])('%s may not import %s', (file, spec) =>
    expect(arrowProblem('/r', `/r/${file}`, spec)).toMatch(/may not|through its index/),
  );
});

it('finds a cycle of imports, and none where there is none', () => {
  const dir = mkdtempSync(path.join(os.tmpdir(), 'house-'));
  const file = (name: string) => path.join(dir, name);
  writeFileSync(file('a.ts'), "import { b } from './b.ts';\nexport const a = b;\n");
  writeFileSync(file('b.ts'), "export * from './c.ts';\n");
  writeFileSync(file('c.ts'), 'export const b = 1;\n');
  writeFileSync(file('d.ts'), "import { e } from './e.ts';\n");
  writeFileSync(file('e.ts'), "import { d } from './d.ts';\n");
  expect(cycleThrough(dir, file('a.ts'), file('b.ts'))).toBe(false);
  // One of types alone is one, too.
  writeFileSync(file('f.ts'), "import type { G } from './g.ts';\n");
  writeFileSync(file('g.ts'), "import type { F } from './f.ts';\n");
  expect(cycleThrough(dir, file('f.ts'), file('g.ts'))).toBe(true);
  expect(cycleThrough(dir, file('d.ts'), file('e.ts'))).toBe(true);
});

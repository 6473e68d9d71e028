import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** The tests of a folder stand in it, those of the kernel and of the courses' rooms in any room beside. */
const folder = process.env.MUTANTS_FOLDER ?? 'core/src/formats';
const whole = ['core/src/carve/kernel', 'core/src/courses'].find((x) => folder.startsWith(x));
const tests = whole ? `${whole.replace('/kernel', '')}/**` : folder;

/** How long each file of tests took at most, in ms: when a change is seen early, less of it runs. */
const took = new Map<string, number>();

/** Quick files first: the first test that fails ends the run of a change. */
class QuickFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    for (const { moduleId } of files) {
      const last = this.ctx.cache.getFileTestResults(`:${moduleId.slice(this.ctx.config.root.length + 1)}`)?.duration;
      took.set(moduleId, Math.max(took.get(moduleId) ?? 0, last ?? 0));
    }
    return [...files].sort((a, b) => took.get(a.moduleId)! - took.get(b.moduleId)!);
  }
}

// The tests that stand beside what is mutated; those of a whole run would see more, and take longer than anyone waits.
export default defineConfig({
  test: {
    setupFiles: ['stryker.setup.ts'],
    include: [`${tests}/*.test.ts`],
    testTimeout: 60_000,
    pool: 'threads',
    maxWorkers: 1,
    isolate: false,
    sequence: { sequencer: QuickFirst },
  },
});

import { runFlush, runGeneral, runNearlyFlush, type PairsResult } from './stress.ts';
import { runStacks } from './stacks.ts';
import { chainsSuite } from './chains.ts';
import { bandsSuite } from './bands.ts';
import { bevelSuite } from './bevels.ts';
import { strokeSuite } from './strokes.ts';
import { healsSuite } from './heals.ts';
import { pairsSuite } from './pairs.ts';
import { twinsSuite } from './twins.ts';
import { Witness } from './witness.ts';

/**
 * `npm run suite -- [frames] [nearly] [pairs] [stacks] [seed]`: the long runs of the kernel, in numbers; `-- strokes
 * [runs] [seed] [kind …]` those of the strokes, `-- bevels [chains] [seed]` bevels of random cuts, `-- pairs [pairs]
 * [seed]` cuts of real bodies against the witness, `-- chains [chains] [seed]` what comes after them, `-- twins [each]
 * [seed]` bodies against themselves, `-- heals [bodies] [seed]` damaged ones, `-- bands [runs] [seed]` bands along
 * seams and bevels on them.
 */
const [name = '', many, first, ...rest] = process.argv.slice(2);
const seedOf = (): number => Number(first ?? Date.now() % 1e6);
const count = (usual: number): number => Number(many ?? usual);
const SUITES: Record<string, () => void | Promise<void>> = {
  strokes: () => strokeSuite(count(1000), seedOf(), rest),
  bevels: () => bevelSuite(count(100), seedOf()),
  pairs: () => pairsSuite(count(2000), seedOf()),
  chains: () => chainsSuite(count(1000), seedOf()),
  twins: () => twinsSuite(count(200), seedOf()),
  heals: () => healsSuite(count(200), seedOf()),
  bands: () => bandsSuite(count(200), seedOf()),
};
if (Object.hasOwn(SUITES, name)) {
  await SUITES[name]!();
  process.exit();
}

const [frames = 100, nearly = 3000, pairs = 10_000, stacks = 1000, seed = Date.now() % 1e6] = process.argv
  .slice(2)
  .map(Number);
const seconds = (t0: number) => `${((performance.now() - t0) / 1000).toFixed(1)} s`;

console.log(`seed ${seed}`);
if (frames) {
  const t0 = performance.now();
  const { rows, rungs } = runFlush(frames, seed);
  let same = 0;
  for (const row of rows) {
    same += row.same;
    if (row.same < row.of) console.log(`  ${row.name}: ${row.same} of ${row.of}; ${row.wrong[0]}`);
  }
  console.log(
    `flush cases: ${rows.length} cases, ${same} of ${rows.length * frames} like their twin; rungs ${JSON.stringify(rungs)}; ${seconds(t0)}`,
  );
}
const tell = (name: string, r: PairsResult, t0: number) => {
  for (const e of r.examples.slice(0, 12)) console.log(`  ${e}`);
  console.log(
    `${name}: ${r.pairs} pairs, ${r.results} results, ${r.open} open, ${r.wrongVolume} wrong volumes (worst identity ${r.worst.toExponential(1)}), ` +
      `${r.refused} refused, ${r.otherThanWitness} other than the witness; rungs ${JSON.stringify(r.rungs)}; ${seconds(t0)}`,
  );
};
if (nearly) {
  const t0 = performance.now();
  tell('nearly flush', runNearlyFlush(nearly, seed + 1), t0);
}
if (pairs) {
  const t0 = performance.now();
  tell('general position', runGeneral(pairs, seed + 2, await Witness.load()), t0);
}
if (stacks) {
  const t0 = performance.now();
  const { examples, ...r } = runStacks(stacks, seed + 3, await Witness.load());
  for (const e of examples.slice(0, 12)) console.log(`  ${e}`);
  console.log(`stacks: ${JSON.stringify(r)}; ${seconds(t0)}`);
}

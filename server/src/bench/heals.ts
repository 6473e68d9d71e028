import { carve, checkSheet, checkSolid, uncross } from '@dusky-mason/core/carve';
import { damaged, DAMAGES, heal, type HealReport } from '@dusky-mason/core/mend';
import { faceCount, OPEN, tieHoles, topologyOf, type PolyMesh } from '@dusky-mason/core/mesh';
import { seededRandom } from '@dusky-mason/core/shapes';
import { damagedOrNot, ownBodies } from './bodies.ts';

/** Why the gate refuses a healed mesh, in words; empty when it accepts it. */
function refusal(m: PolyMesh): string {
  try {
    const copy = { ...m };
    if (topologyOf(copy).opposite.includes(OPEN)) checkSheet(copy, 'It');
    else checkSolid(copy, 'It');
    return '';
  } catch (e) {
    return e instanceof Error ? e.message : String(e);
  }
}

const healed = (m: PolyMesh): { mesh: PolyMesh; report: HealReport } =>
  heal(m, {
    unite: (a, b) => carve(a, { cutters: [b], operation: 'union', course: 1 }).mesh,
    uncross: (x, pairs) => uncross(x, pairs, 1),
  });

/**
 * `npm run suite -- heals [bodies] [seed]`: the damaged ones among the real meshes, and bodies damaged on purpose.
 * After a healing the gate takes a mesh in, or the report says what is left.
 */
export function healsSuite(bodies: number, seed: number): void {
  const random = seededRandom(seed);
  const count = { accepted: 0, told: 0, untold: 0 };
  const one = (label: string, m: PolyMesh): void => {
    const t0 = performance.now();
    const { mesh, report } = healed(m);
    const why = faceCount(mesh) ? refusal(mesh) : 'nothing is left';
    const told = report.open + report.odd + (report.crossing ?? 1) > 0;
    count[why ? (told ? 'told' : 'untold') : 'accepted']++;
    if (why || performance.now() - t0 > 5000)
      console.log(
        `  ${label}: ${why || 'accepted'} (${((performance.now() - t0) / 1000).toFixed(1)} s, ${faceCount(m)} faces; open ${report.open}, odd ${report.odd}, crossing ${report.crossing})`,
      );
  };
  console.log(`seed ${seed}`);
  for (const { name, mesh } of damagedOrNot()) if (refusal(mesh)) one(name, mesh);
  const sound = [...damagedOrNot().filter((b) => !refusal(b.mesh) && faceCount(b.mesh) < 6000), ...ownBodies()];
  for (let i = 0; i < bodies; i++) {
    const { name, mesh } = sound[Math.floor(random() * sound.length)]!;
    const kinds = DAMAGES.filter(() => random() < 0.25);
    one(`${i} ${name}: ${kinds.join(' ')}`, damaged(tieHoles(mesh), kinds, random, 100));
  }
  console.log(
    `healed: ${count.accepted} accepted, ${count.told} refused and said so, ${count.untold} refused without a word`,
  );
}

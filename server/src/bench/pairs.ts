import { carve, checkSolid, isSolid, OPERATIONS, type CarveOperation } from '@dusky-mason/core/carve';
import { readObj, writeObj } from '@dusky-mason/core/formats';
import {
  areaAndVolume,
  faceCount,
  isClosed,
  MasonError,
  sizeOf,
  vertexPlace,
  vertexCount,
  type PolyMesh,
} from '@dusky-mason/core/mesh';
import { ballFromRings, randomTurn, seededRandom } from '@dusky-mason/core/shapes';
import { ownBodies, placed, realBodies, subdivided, type Body } from './bodies.ts';
import { Witness } from './witness.ts';

/**
 * 32-bit coordinates of the witness move its surface by so much of the size at most; its volume may differ by this
 * times the area.
 */
const WITNESS_MOVES = 1e-6;

interface Tally {
  pairs: number;
  refused: number;
  open: number;
  unlike: number;
  again: number;
  refusedAgain: number;
  /** Our time over the witness's, gate included. */
  ratios: { faces: number; ratio: number; bent: boolean }[];
}

const written = (m: PolyMesh): PolyMesh =>
  readObj(new TextEncoder().encode(writeObj([{ name: 'part', mesh: m }]))).mesh;

/**
 * `npm run suite -- pairs [pairs] [seed]`: pairs of real bodies and of our own in random frames. Each is cut, held
 * against the witness, written, read, looked at by the gate and cut again.
 */
export async function pairsSuite(pairs: number, seed: number): Promise<void> {
  const random = seededRandom(seed);
  const witness = await Witness.load();
  const real = realBodies();
  const flat = [...real.filter((b) => !b.bent), ...ownBodies().filter((b) => !b.bent)];
  const bent = [
    ...real.filter((b) => b.bent),
    ...ownBodies().filter((b) => b.bent),
    ...subdivided(real.filter((b) => faceCount(b.mesh) < 2000)).filter((b) => isSolid(b.mesh)),
  ];
  const tally: Tally = { pairs: 0, refused: 0, open: 0, unlike: 0, again: 0, refusedAgain: 0, ratios: [] };
  const say = (what: string) => console.log(`  ${tally.pairs}: ${what}`);
  console.log(`seed ${seed}; ${flat.length} flat bodies, ${bent.length} bent ones`);
  const one = (list: readonly Body[]) => list[Math.floor(random() * list.length)]!;
  for (let i = 0; i < pairs; i++) {
    const isBent = random() < 0.4;
    const [p, q] = isBent ? [one(bent), one(random() < 0.5 ? bent : flat)] : [one(flat), one(flat)];
    const scale = 10 ** (-2 + 5 * random());
    const frame = randomTurn(random);
    const far = [0, 1, 2].map(() => (random() - 0.5) * 100 * scale);
    const a = placed(p.mesh, frame, scale, far);
    const at = vertexPlace(a, Math.floor(random() * vertexCount(a)));
    const size = scale * (0.3 + random());
    const near = at.map((x) => x + (random() - 0.5) * 60 * size);
    const b = placed(q.mesh, randomTurn(random), size, near);
    const operation = OPERATIONS[Math.floor(random() * 3)]!;
    tally.pairs++;
    onePair(a, b, operation, isBent, `${p.name} ${operation} ${q.name}`);
  }
  tell(tally);

  function onePair(a: PolyMesh, b: PolyMesh, operation: CarveOperation, isBent: boolean, label: string): void {
    const t0 = performance.now();
    let mesh: PolyMesh | null = null;
    try {
      mesh = carve(a, { cutters: [b], operation }).mesh;
    } catch (e) {
      // Nothing in common, or nothing left, is an answer.
      if (!(e instanceof MasonError)) throw e;
      if (e.code !== 'bad-input') {
        tally.refused++;
        return say(`${label} refused: ${e.message}`);
      }
    }
    const t1 = performance.now();
    const volume = witness.volumeOf(a, b, operation);
    const t2 = performance.now();
    tally.ratios.push({ faces: faceCount(a) + faceCount(b), ratio: (t1 - t0) / (t2 - t1), bent: isBent });
    const own = mesh ? areaAndVolume(mesh).volume : 0;
    const allowed = WITNESS_MOVES * Math.max(sizeOf(a), sizeOf(b)) * (areaAndVolume(a).area + areaAndVolume(b).area);
    if (Math.abs(own - volume) > allowed) {
      tally.unlike++;
      say(`${label}: volume ${own.toPrecision(12)}, witness ${volume.toPrecision(12)}`);
    }
    if (!mesh) return;
    if (!isClosed(mesh)) {
      tally.open++;
      return say(`${label} is open`);
    }
    const back = written(mesh);
    try {
      checkSolid(back, 'It');
      tally.again++;
      const [cutter, at] = [
        ballFromRings(0.2 * sizeOf(back), 12, 8),
        vertexPlace(back, Math.floor(random() * vertexCount(back))),
      ];
      carve(back, { cutters: [placed(cutter, randomTurn(random), 1, at)], operation: 'subtract' });
    } catch (e) {
      if (e instanceof MasonError && e.code === 'bad-input') return;
      tally.refusedAgain++;
      say(`${label}, read again: ${e instanceof Error ? e.message : String(e)}`);
    }
  }
}

function tell(t: Tally): void {
  console.log(
    `pairs: ${t.pairs}, ${t.refused} refused, ${t.open} open, ${t.unlike} unlike the witness; ${t.again} accepted again, ${t.refusedAgain} refused again`,
  );
  const at = (list: number[], share: number) =>
    list.length ? list[Math.min(list.length - 1, Math.floor(share * list.length))]!.toFixed(2) : '–';
  for (const [name, of] of [
    ['all', () => true],
    ['flat', (r) => !r.bent],
    ['bent', (r) => r.bent],
    ['under 1 k faces', (r) => r.faces < 1000],
    ['1 k to 10 k', (r) => r.faces >= 1000 && r.faces < 10_000],
    ['over 10 k', (r) => r.faces >= 10_000],
  ] as [string, (r: Tally['ratios'][number]) => boolean][]) {
    const list = t.ratios
      .filter(of)
      .map((r) => r.ratio)
      .sort((a, b) => a - b);
    console.log(
      `  time over the witness's, ${name} (${list.length}): median ${at(list, 0.5)}, 95 % ${at(list, 0.95)}, worst ${at(list, 1)}`,
    );
  }
}

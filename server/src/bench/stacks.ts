import { carve, type CarveOperation } from '@dusky-mason/core/carve';
import { randomFrame, signature } from '@dusky-mason/core/carve/suite';
import {
  areaAndVolume,
  IDENTITY,
  isClosed,
  MasonError,
  transformMesh,
  type Affine,
  type PolyMesh,
} from '@dusky-mason/core/mesh';
import { box, cylinder, prism, seededRandom } from '@dusky-mason/core/shapes';
import type { Witness } from './witness.ts';

export interface StacksResult {
  stacks: number;
  flush: number;
  cuts: number;
  open: number;
  refused: number;
  otherThanTwin: number;
  otherThanWitness: number;
  /** Greatest difference of a volume from its twin's and from the witness's, relative. */
  worstTwin: number;
  worstWitness: number;
  examples: string[];
}

interface Step {
  operation: CarveOperation;
  cutter: PolyMesh;
}

type Random = () => number;
const between = (r: Random, low: number, high: number): number => low + (high - low) * r();

/**
 * A cutter somewhere about a block of 100 × 60 × 40; a flush one on a grid of 5 mm, so that faces meet in one plane.
 */
function cutterOf(r: Random, flush: boolean): PolyMesh {
  const grid = (x: number) => (flush ? 5 * Math.round(x / 5) : x);
  const size = () => Math.max(5, grid(between(r, 5, 40)));
  const kind = Math.floor(4 * r());
  const body =
    kind === 0
      ? cylinder(size() / 2, 2 * size(), 8 + 4 * Math.floor(5 * r()))
      : kind === 1
        ? prism(
            {
              points: [
                [-10, -10],
                [10, -10],
                [10, 0],
                [0, 0],
                [0, 10],
                [-10, 10],
              ],
            },
            2 * size(),
          )
        : box(size(), size(), 2 * size());
  // A quarter turn leaves flush faces flush.
  const turn = [
    [1, 0, 0, 0, 1, 0, 0, 0, 1],
    [0, 0, 1, 1, 0, 0, 0, 1, 0],
    [0, 1, 0, 0, 0, 1, 1, 0, 0],
  ][Math.floor(3 * r())]!;
  const place = [grid(between(r, -50, 50)), grid(between(r, -30, 30)), grid(between(r, -20, 20))];
  const m: Affine = [0, 1, 2].flatMap((k) => [...turn.slice(3 * k, 3 * k + 3), place[k]!]);
  return transformMesh(body, m);
}

/** Climbs a stack in a frame; null when a cut is refused because nothing would be left. Throws what else is thrown. */
function climb(steps: readonly Step[], frame: Affine): PolyMesh[] {
  const out = [transformMesh(box(100, 60, 40), frame)];
  for (const { operation, cutter } of steps)
    try {
      out.push(carve(out.at(-1)!, { cutters: [transformMesh(cutter, frame)], operation }).mesh);
    } catch (e) {
      // What would leave nothing is passed over, in every frame alike.
      if (!(e instanceof MasonError && e.code === 'bad-input')) throw e;
      out.push(out.at(-1)!);
    }
  return out.slice(1);
}

/**
 * Random stacks of 2 to 12 cuts, a third of them flush, in random frames: each against its unturned twin, the others
 * against the witness.
 */
export function runStacks(stacks: number, seed: number, witness: Witness): StacksResult {
  const r = seededRandom(seed);
  const out: StacksResult = {
    stacks,
    flush: 0,
    cuts: 0,
    open: 0,
    refused: 0,
    otherThanTwin: 0,
    otherThanWitness: 0,
    worstTwin: 0,
    worstWitness: 0,
    examples: [],
  };
  for (let n = 0; n < stacks; n++) {
    const flush = r() < 1 / 3;
    if (flush) out.flush++;
    const count = 2 + Math.floor(11 * r());
    const steps = Array.from({ length: count }, (): Step => ({
      operation: r() < 0.7 ? 'subtract' : 'union',
      cutter: cutterOf(r, flush),
    }));
    const { affine: frame, scale } = randomFrame(r);
    try {
      const plain = climb(steps, IDENTITY);
      const turned = climb(steps, frame);
      out.cuts += count;
      turned.forEach((m, i) => {
        const twin = plain[i]!;
        if (!isClosed(m) || !isClosed(twin)) {
          out.open++;
          out.examples.push(`${n} cut ${i}: open`);
        }
        const off = Math.abs(volume(m) / scale ** 3 / volume(twin) - 1);
        out.worstTwin = Math.max(out.worstTwin, off);
        if (signature(m) !== signature(twin) || !(off < 1e-7)) {
          out.otherThanTwin++;
          out.examples.push(
            `${n} cut ${i} of ${count}${flush ? ' (flush)' : ''}: ${signature(m)}; twin ${signature(twin)}`,
          );
        }
      });
      if (!flush) againstWitness(witness, steps, plain, out, n);
    } catch (e) {
      out.refused++;
      out.examples.push(`${n}${flush ? ' (flush)' : ''}: ${e instanceof Error ? e.message : String(e)}`);
    }
  }
  return out;
}

const volume = (m: PolyMesh): number => areaAndVolume(m).volume;

/** Each cut by itself: our body below it and its cutter, given to the witness. */
function againstWitness(
  witness: Witness,
  steps: readonly Step[],
  plain: PolyMesh[],
  out: StacksResult,
  n: number,
): void {
  let below = box(100, 60, 40);
  steps.forEach(({ operation, cutter }, i) => {
    const mine = plain[i]!;
    if (mine !== below) {
      const want = witness.counts(below, cutter, operation);
      const off = Math.abs(volume(mine) / want.volume - 1);
      out.worstWitness = Math.max(out.worstWitness, off);
      if (!(off < 1e-5)) {
        out.otherThanWitness++;
        out.examples.push(`${n} cut ${i}: volume ${volume(mine)}; witness ${want.volume}`);
      }
    }
    below = mine;
  });
}

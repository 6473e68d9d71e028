import {
  areaAndVolume,
  components,
  faceCount,
  isClosed,
  loopCount,
  sentenceOf,
  topologyOf,
  transformMesh,
  vertexCount,
  type Affine,
  type PolyMesh,
} from '../../mesh/index.ts';
import { randomTurn } from '../../shapes/index.ts';
import { carveInReach, uniteNear, type CarveOperation, type KernelReport } from '../kernel/index.ts';
import type { Bench } from './flushCases.ts';

/** A frame: a turn, a size and a place. */
export function randomFrame(random: () => number): { affine: Affine; scale: number } {
  const scale = 10 ** (random() * 5 - 2);
  const r = randomTurn(random);
  const far = random() < 0.3 ? 1000 : 100;
  const t = [0, 1, 2].map(() => (random() * 2 - 1) * far * scale);
  const affine = [0, 1, 2].flatMap((i) => [...[0, 1, 2].map((k) => scale * r[3 * i + k]!), t[i]!]);
  return { affine, scale };
}

/** Makes bodies in a frame and reports each cut. */
export function benchIn(affine: Affine, told: (report: KernelReport) => void = () => undefined): Bench {
  return {
    make: (m) => transformMesh(m, affine),
    carve: (target, cutters, operation: CarveOperation, apart = false) => {
      const list = Array.isArray(cutters) ? cutters : [cutters];
      const options = { joinFlush: !apart, pinches: 'part', course: 1 } as const;
      const { meshes, report } = carveInReach([target, ...uniteNear(list, options)], [operation], options);
      told(report);
      return meshes[0]!;
    },
  };
}

/** What must not depend on the frame: pieces, Euler number, faces, vertices, edges, inner outlines, open edges. */
export function signature(m: PolyMesh): string {
  const t = topologyOf(m);
  const open = t.opposite.reduce((n, o) => n + (o < 0 ? 1 : 0), 0);
  const inner = loopCount(m) - faceCount(m);
  const euler = vertexCount(m) - t.edgeCount + faceCount(m) - inner;
  return [components(m).count, euler, faceCount(m), vertexCount(m), t.edgeCount, inner, open].join('/');
}

export interface TwinResult {
  same: boolean;
  detail: string;
}

/** Runs a case in a frame and compares with its plain twin; volumes to 1e-9. */
export function compareWithTwin(
  run: (k: Bench) => PolyMesh,
  twin: PolyMesh,
  frame: { affine: Affine; scale: number },
  told?: (report: KernelReport) => void,
): TwinResult {
  try {
    const m = run(benchIn(frame.affine, told));
    const v0 = areaAndVolume(twin).volume;
    const v = areaAndVolume(m).volume / frame.scale ** 3;
    const off = v0 === 0 ? Math.abs(v) : Math.abs(v / v0 - 1);
    const same = signature(m) === signature(twin) && off < 1e-9 && isClosed(m) === isClosed(twin);
    return {
      same,
      detail: same ? '' : `${signature(m)} for ${signature(twin)}, volume off by ${off.toExponential(1)}`,
    };
  } catch (e) {
    return { same: false, detail: sentenceOf(e) };
  }
}

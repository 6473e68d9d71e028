import {
  areaAndVolume,
  bounds,
  faceCount,
  isClosed,
  MasonError,
  type OpContext,
  type PolyMesh,
} from '../mesh/index.ts';
import { checkSolid, trust } from './gate.ts';
import { carveBodies, uniteNear, type CarveOperation, type KernelReport } from './kernel/index.ts';

export interface CarveOptions {
  operation: CarveOperation;
  /** Flush faces of different bodies become one face. Default true. */
  joinFlush?: boolean;
  /** Where the result touches itself only along an edge or at a vertex: part it into manifold pieces (default), or keep it so. */
  pinches?: 'part' | 'keep';
  /** The course that new edges and walls are marked with. Default 1. */
  course?: number;
}

export interface CarveReport extends KernelReport {
  /** How the result was reached, in words. */
  strategy: string;
  /** Volumes, mm³. */
  volumeBefore: number;
  volumeAfter: number;
  /** Faces of the result that come from cutters. */
  newWalls: number;
  /** Edges of the result between target and cutter faces. */
  seamEdges: number;
}

/**
 * Subtracts the cutters from the target, unites them with it, or keeps what they have in common. Several cutters act as one,
 * overlapping ones too. Faces that the cut does not meet come out corner for corner as they went in.
 *
 * @example carve(box(100, 60, 20), [cylinder(8, 40, 64)], { operation: 'subtract' }).mesh
 *
 * Throws `not-solid` when a body is not fit to be carved, `bad-input` when there is nothing to carve with or the result
 * would be empty, `not-done` when no tolerance gives a clean result; nothing is changed then.
 * Method: `kernel/`, a tolerant arrangement of planes. Limits: bodies must be closed; open sheets are not carved here.
 */
export function carve(
  target: PolyMesh,
  cutters: readonly PolyMesh[],
  options: CarveOptions,
  ctx?: OpContext,
): { mesh: PolyMesh; report: CarveReport } {
  const { operation, course = 1 } = options;
  if (!cutters.length) throw new MasonError('bad-input', 'There is no cutter to cut with.');
  if (faceCount(target) === 0) throw new MasonError('bad-input', 'The part has no faces to cut.');
  checkSolid(target, 'The part');
  cutters.forEach((m, i) => checkSolid(m, cutters.length > 1 ? `Cutter ${i + 1}` : 'The cutter'));
  const assembly = { joinFlush: options.joinFlush ?? true, pinches: options.pinches ?? 'part', course } as const;
  const united = uniteNear(cutters, assembly, ctx);
  const { mesh, report } = carveBodies([target, ...united], operation, assembly, ctx);
  if (faceCount(mesh) === 0) throw new MasonError('bad-input', nothingLeft(operation, target, cutters));
  if (isClosed(mesh)) trust(mesh);
  const joint = united.length < cutters.length ? `, ${cutters.length} cutters as ${united.length}` : '';
  return {
    mesh,
    report: {
      ...report,
      strategy: `planes at ${report.relativeTolerance} of the size${joint}`,
      volumeBefore: areaAndVolume(target).volume,
      volumeAfter: areaAndVolume(mesh).volume,
      newWalls: countWalls(mesh, course),
      seamEdges: (mesh.layers.seam?.reduce((n, x) => n + (x === course ? 1 : 0), 0) ?? 0) / 2,
    },
  };
}

function countWalls(m: PolyMesh, course: number): number {
  let n = 0;
  const source = m.layers.source;
  if (source) for (let f = 0; f < faceCount(m); f++) if (source[3 * f + 2] === course) n++;
  return n;
}

function nothingLeft(operation: CarveOperation, target: PolyMesh, cutters: readonly PolyMesh[]): string {
  if (operation === 'subtract')
    return 'The cutter takes the whole part away; nothing would be left. Make it smaller or move it.';
  const t = bounds(target);
  const apart = cutters.every((m) => {
    const c = bounds(m);
    return [0, 1, 2].some((k) => c.min[k]! > t.max[k]! || c.max[k]! < t.min[k]!);
  });
  return apart
    ? 'The cutter and the part do not meet, so they have nothing in common. Move the cutter into the part.'
    : 'The cutter and the part have no volume in common; nothing would be left.';
}

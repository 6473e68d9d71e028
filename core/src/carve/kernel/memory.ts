import { sameMesh, type Bounds, type PolyMesh } from '../../mesh/index.ts';
import type { CarveBodiesOptions, KernelResult } from './guard.ts';
import type { Selection } from './selection.ts';

/** Arrangements kept: those of a course's bodies and cutters one by one, before and after a change below. */
const MOST_KEPT = 4;
/** Larger ones are not kept, corners. */
const LARGEST_KEPT = 200_000;

/** All that an arrangement depends on; nothing of it holds on to the whole target. */
export interface Asked {
  /** The part in reach, its vertices on the border of that, and the box of the whole target. */
  part: PolyMesh;
  border: Uint8Array;
  box: Bounds;
  cutters: readonly PolyMesh[];
  selections: readonly Selection[];
  options: CarveBodiesOptions;
}

/**
 * Remembers what became of the part in reach of a course's cutters, so that a change elsewhere on the target costs no
 * new arrangement. Found again only when all that the arrangement depends on is the same, number by number.
 */
export class CarveMemory {
  private readonly kept: { asked: Asked; result: KernelResult }[] = [];

  recall(asked: Asked): KernelResult | null {
    const at = this.kept.findIndex((k) => same(k.asked, asked));
    if (at < 0) return null;
    const [found] = this.kept.splice(at, 1);
    this.kept.push(found!);
    return found!.result;
  }

  /** Keeps a result, unless rays had to be sent through what is out of reach to get it. */
  keep(asked: Asked, result: KernelResult): void {
    if (result.wholeAsked || asked.part.corners.length > LARGEST_KEPT) return;
    this.kept.push({ asked, result });
    if (this.kept.length > MOST_KEPT) this.kept.shift();
  }
}

function same(a: Asked, b: Asked): boolean {
  const words = ({ selections, options, box }: Asked) => JSON.stringify([selections, options, box]);
  return (
    words(a) === words(b) &&
    a.cutters.length === b.cutters.length &&
    sameMesh(a.part, b.part) &&
    a.border.every((x, i) => x === b.border[i]) &&
    a.cutters.every((m, i) => sameMesh(m, b.cutters[i]!))
  );
}

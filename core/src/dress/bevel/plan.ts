import {
  layerKind,
  LAYER_NAMES,
  MasonError,
  setLayer,
  sharedTopology,
  type Layers,
  type PolyMesh,
} from '../../mesh/index.ts';
import type { bevel } from './bevel.ts';

type Made = ReturnType<typeof bevel>;

/** How many steps of a drag are built ahead, so that the next ones lie within. */
const AHEAD = 4;
/** Most widths that are kept of a drag. */
const MOST_KEPT = 12;

/**
 * A bevel whose width is dragged. While no edge is used up and no line comes to another facet, every vertex of a bevel
 * goes straight as the width grows: so widths between two built ones with the same faces need no building. Where they
 * do not fit they are built. Only for previews during a drag: where vertices go over doubly bent surfaces, the way
 * between is nearly straight only.
 */
export class BevelPlan {
  private words = '';
  private ground: PolyMesh | null = null;
  private built: { width: number; made: Made }[] = [];
  private last: number | null = null;
  private looksAhead = true;

  /**
   * The bevel of a width (as its measure says). `words` are all the other settings, and with `ground`, the mesh below,
   * what a plan holds for; `make` builds one.
   * Throws what `make` throws at that width.
   */
  at(width: number, ground: PolyMesh, words: string, make: (width: number) => Made): Made {
    if (ground !== this.ground || words !== this.words) this.begin(ground, words);
    const { last } = this;
    this.last = width;
    const found = this.within(width);
    if (found) return found;
    if (this.looksAhead && last !== null && last !== width) {
      const further = width + AHEAD * (width - last);
      // A plan that does not hold that far cannot be relied on.
      this.looksAhead = further > 0 && this.tried(further, make);
      const now = this.within(width);
      if (now) return now;
      this.looksAhead = false;
    }
    const made = make(width);
    this.keep(width, made);
    return made;
  }

  private begin(ground: PolyMesh, words: string): void {
    Object.assign(this, { ground, words, built: [], last: null, looksAhead: true });
  }

  private tried(width: number, make: (width: number) => Made): boolean {
    try {
      this.keep(width, make(width));
      return true;
    } catch (e) {
      if (e instanceof MasonError && e.code !== 'cancelled') return false;
      throw e;
    }
  }

  private keep(width: number, made: Made): void {
    this.built = [...this.built, { width, made }].sort((a, b) => a.width - b.width);
    if (this.built.length <= MOST_KEPT) return;
    const far = Math.abs(this.built[0]!.width - width) > Math.abs(this.built.at(-1)!.width - width) ? 0 : MOST_KEPT;
    this.built.splice(far, 1);
  }

  /** What lies between two widths that were built alike, or is one of them. */
  private within(width: number): Made | null {
    const above = this.built.findIndex((b) => b.width >= width);
    if (above < 0) return null;
    const b = this.built[above]!;
    if (b.width === width) return b.made;
    const a = this.built[above - 1];
    return a && alike(a.made, b.made) ? between(a.made, b.made, (width - a.width) / (b.width - a.width)) : null;
  }
}

/** Whether two bevels have the same faces, at their full widths. */
function alike({ mesh: a, report: r }: Made, { mesh: b, report: s }: Made): boolean {
  const same = (x: Int32Array, y: Int32Array) => x.length === y.length && x.every((v, i) => v === y[i]);
  return (
    !r.narrowed &&
    !s.narrowed &&
    a.positions.length === b.positions.length &&
    same(a.corners, b.corners) &&
    same(a.loopStart, b.loopStart) &&
    same(a.faceLoops, b.faceLoops)
  );
}

/** What lies at a share of the way from one bevel to another one with the same faces. */
function between(a: Made, b: Made, share: number): Made {
  const mixed = <A extends Float64Array | Float32Array>(x: A, y: A): A => x.map((v, i) => v + share * (y[i]! - v)) as A;
  const layers: Layers = { ...a.mesh.layers };
  for (const name of LAYER_NAMES) {
    const [x, y] = [a.mesh.layers[name], b.mesh.layers[name]];
    if (x && y && layerKind(name).rule === 'blend') setLayer(layers, name, mixed(x as Float64Array, y as Float64Array));
  }
  const mesh = sharedTopology({ ...a.mesh, positions: mixed(a.mesh.positions, b.mesh.positions), layers }, a.mesh);
  return { mesh, report: a.report };
}

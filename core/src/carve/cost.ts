import { cornerCount, MasonError, type PolyMesh } from '../mesh/index.ts';

/** Memory that a cut may take, bytes. */
export const MEMORY_LIMIT = 4 * 2 ** 30;
/**
 * Memory that a cut takes for each corner of the part and of its cutters, bytes: 80 to 110 were measured, from one
 * million to sixteen.
 */
const PER_CORNER = 160;

/** The memory that a cut will take beside what part and cutters take already, bytes. */
export const memoryOf = (target: PolyMesh, cutters: readonly PolyMesh[]): number =>
  PER_CORNER * (cornerCount(target) + cutters.reduce((n, m) => n + cornerCount(m), 0));

/** Throws `too-large`, with what would fit, when a cut would take more memory than the limit (bytes). */
export function checkMemory(target: PolyMesh, cutters: readonly PolyMesh[], limit = MEMORY_LIMIT): void {
  const needs = memoryOf(target, cutters);
  if (needs <= limit) return;
  const gb = (x: number) => `${(x / 2 ** 30).toFixed(1)} GB`;
  const corners = (x: number) => `${(x / 1e6).toPrecision(3)} million corners`;
  throw new MasonError(
    'too-large',
    `This cut would take ${gb(needs)} of memory, and ${gb(limit)} are set aside for it. Part and cutters have ${corners(needs / PER_CORNER)} together; up to ${corners(limit / PER_CORNER)} fit. Make them coarser, or cut the part in pieces.`,
  );
}

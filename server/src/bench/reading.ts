import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { mergeVertices } from 'three/addons/utils/BufferGeometryUtils.js';
import { readMesh, writeObj, writeStl } from '@dusky-mason/core/formats';
import { faceCount, vertexCount } from '@dusky-mason/core/mesh';
import { ballFromRings } from '@dusky-mason/core/shapes';
import { median, timed } from './timing.ts';

/**
 * `npm run bench -- reading`: reading a binary STL and joining its corners, beside a loader and a joining in wide use,
 * in one run. OBJ is shown beside them.
 */
export function readingRatios(): void {
  const loader = new STLLoader();
  const rows = [10_000, 100_000, 1_000_000, 2_000_000].map((n) => {
    const rings = Math.round(Math.sqrt(n / 2));
    const ball = ballFromRings(50, rings, rings);
    const bytes = writeStl(ball);
    const read = readMesh('ball.stl', bytes).mesh;
    const text = writeObj([{ name: 'ball', mesh: read }]);
    const data = typeof text === 'string' ? new TextEncoder().encode(text) : text;
    const runs = Array.from({ length: n < 1e6 ? 9 : 3 }, () => {
      const ours = timed(() => readMesh('ball.stl', bytes));
      // It joins by position alone only when there is nothing else to compare.
      const theirs = timed(() => {
        const geometry = loader.parse(bytes.buffer as ArrayBuffer);
        geometry.deleteAttribute('normal');
        mergeVertices(geometry);
      });
      return { ours, theirs, obj: timed(() => readMesh('ball.obj', data)) };
    });
    const [ours, theirs, obj] = (['ours', 'theirs', 'obj'] as const).map((k) => median(runs.map((r) => r[k])));
    return {
      triangles: faceCount(read),
      vertices: vertexCount(read),
      'STL ms': +ours!.toFixed(1),
      'STLLoader, mergeVertices ms': +theirs!.toFixed(1),
      ratio: +(ours! / theirs!).toFixed(2),
      'OBJ ms': +obj!.toFixed(1),
    };
  });
  console.log('reading and joining, median ms; a ratio below 1 means ours is faster');
  console.table(rows);
}

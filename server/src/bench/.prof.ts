import { carve, trust, isTrusted } from '@dusky-mason/core/carve';
import { box, cylinder } from '@dusky-mason/core/shapes';
import {
  transformMesh,
  renderBuffers,
  topologyOf,
  areaAndVolume,
  faceCount,
  type PolyMesh,
} from '@dusky-mason/core/mesh';
import { surveyCounts } from '@dusky-mason/core/survey';
const cyl = (x: number, y: number) =>
  trust(transformMesh(cylinder(3, 40, 32), [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, 0] as any));
let m: PolyMesh = box(400, 300, 20);
const sets: PolyMesh[][] = [];
for (let c = 0; c < 9; c++) {
  sets.push(Array.from({ length: 18 }, (_, i) => cyl(-180 + 40 * c + 8 * (i % 2), -130 + 26 * Math.floor(i / 2))));
}
for (let k = 0; k < 8; k++) m = carve(m, sets[k]!, { operation: 'subtract', course: k + 1 }).mesh;
console.log(faceCount(m), isTrusted(m));
const T = (n: string, f: () => void, r = 15) => {
  const t: number[] = [];
  for (let i = 0; i < r; i++) {
    const a = performance.now();
    f();
    t.push(performance.now() - a);
  }
  t.sort((a, b) => a - b);
  console.log(n, t[r >> 1]!.toFixed(2));
};
const fresh = () => trust({ ...m });
T('carve fresh', () => carve(fresh(), sets[8]!, { operation: 'subtract', course: 9 }));
T('carve warm', () => carve(m, sets[8]!, { operation: 'subtract', course: 9 }));
T('topology', () => topologyOf(fresh()));
T('volume', () => areaAndVolume(fresh()));
T('render', () => renderBuffers(fresh()));
T('survey', () => surveyCounts(fresh()));
const b = box(400, 300, 20);
T('carve box', () => carve(b, sets[8]!, { operation: 'subtract', course: 9 }));
T('carve box one', () => carve(b, [sets[8]![0]!], { operation: 'subtract', course: 9 }));
T('cyl', () => cyl(1, 2));
if (process.argv[2]) for (let i = 0; i < 200; i++) carve(fresh(), sets[8]!, { operation: 'subtract', course: 9 });

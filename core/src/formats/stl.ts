import { meshFromFaces, triangulateMesh, type PolyMesh } from '../mesh/index.ts';
import { badFile, checkCoordinate, checkCount, checkSize, type ReadMesh } from './limits.ts';

const HEADER = 84;
const RECORD = 50;

/**
 * Reads an STL file, text or binary, told apart by its content: a binary file's length follows from its count. Vertices with the
 * very same coordinates become one; triangles that thereby lose a side are left out. Throws `bad-file` with the place.
 * Format: StereoLithography Interface Specification, 3D Systems, 1988.
 */
export function readStl(bytes: Uint8Array): ReadMesh {
  checkSize(bytes);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = bytes.length >= HEADER ? view.getUint32(80, true) : -1;
  if (count >= 0 && bytes.length === HEADER + RECORD * count) return weld(binaryCoordinates(view, count));
  const head = new TextDecoder().decode(bytes.subarray(0, 1024)).trimStart();
  const isText = /^solid\b/i.test(head) && !head.includes('\0');
  if (isText && /\bfacet\b/i.test(head)) return weld(textCoordinates(new TextDecoder().decode(bytes)));
  if (count >= 0 && !isText)
    throw badFile(
      `The file announces ${count} triangles, which takes ${HEADER + RECORD * count} bytes, and has ${bytes.length}`,
      bytes.length < HEADER + RECORD * count ? 'it ends too soon' : 'something follows the last triangle',
    );
  throw badFile('This is neither a text nor a binary STL file', 'the beginning is not that of one');
}

function binaryCoordinates(view: DataView, count: number): number[] {
  checkCount(count, 'triangles');
  const out: number[] = [];
  for (let t = 0; t < count; t++)
    for (let i = 0; i < 9; i++)
      out.push(checkCoordinate(view.getFloat32(HEADER + RECORD * t + 12 + 4 * i, true), `triangle ${t + 1}`));
  return out;
}

function textCoordinates(text: string): number[] {
  const out: number[] = [];
  let inLoop = -1;
  let line = 0;
  for (const raw of text.split(/\r\n|\n|\r/)) {
    line++;
    const words = raw.trim().toLowerCase().split(/\s+/);
    if (words[0] === 'outer') inLoop = 0;
    else if (words[0] === 'vertex') {
      if (inLoop < 0 || inLoop > 2) throw badFile('A vertex stands outside a triangle', `line ${line}`);
      if (words.length !== 4) throw badFile('A vertex needs three numbers', `line ${line}`);
      for (const w of words.slice(1)) out.push(checkCoordinate(Number(w), `line ${line}`));
      inLoop++;
    } else if (words[0] === 'endloop') {
      if (inLoop !== 3) throw badFile('A triangle has not three vertices', `line ${line}`);
      inLoop = -1;
    }
    checkCount(out.length / 9, 'triangles');
  }
  if (inLoop >= 0) throw badFile('The last triangle is not finished', `line ${line}`);
  return out;
}

function weld(coordinates: number[]): ReadMesh {
  if (!coordinates.length) throw badFile('There are no triangles in it', '');
  const known = new Map<string, number>();
  const positions: number[] = [];
  const faces: number[][] = [];
  let lost = 0;
  for (let i = 0; i < coordinates.length; i += 9) {
    const face = [0, 3, 6].map((k) => {
      // + 0 turns −0 into 0, which is the same place.
      const p = coordinates.slice(i + k, i + k + 3).map((x) => x + 0);
      const key = p.join();
      let v = known.get(key);
      if (v === undefined) {
        v = positions.length / 3;
        known.set(key, v);
        positions.push(...p);
      }
      return v;
    });
    if (new Set(face).size === 3) faces.push(face);
    else lost++;
  }
  if (!faces.length) throw badFile('All its triangles are mere lines or points', '');
  const warnings = lost ? [`${lost} triangles without area were left out.`] : [];
  return { mesh: meshFromFaces(positions, faces), warnings };
}

/** Writes a mesh as STL triangles, binary (32-bit numbers) or text. */
export function writeStl(m: PolyMesh, kind: 'binary' | 'text' = 'binary'): Uint8Array {
  const { triangles } = triangulateMesh(m);
  const n = triangles.length / 3;
  const at = (t: number, j: number, k: number): number => m.positions[3 * m.corners[triangles[3 * t + j]!]! + k]!;
  const normal = (t: number): number[] => {
    const e = [0, 1, 2].map((k) => at(t, 1, k) - at(t, 0, k));
    const g = [0, 1, 2].map((k) => at(t, 2, k) - at(t, 0, k));
    const c = [0, 1, 2].map((k) => e[(k + 1) % 3]! * g[(k + 2) % 3]! - e[(k + 2) % 3]! * g[(k + 1) % 3]!);
    const length = Math.hypot(...c) || 1;
    return c.map((x) => x / length);
  };
  if (kind === 'text') {
    const rows = ['solid DuskyMason'];
    for (let t = 0; t < n; t++) {
      rows.push(`facet normal ${normal(t).join(' ')}`, 'outer loop');
      for (let j = 0; j < 3; j++) rows.push(`vertex ${[0, 1, 2].map((k) => at(t, j, k)).join(' ')}`);
      rows.push('endloop', 'endfacet');
    }
    rows.push('endsolid DuskyMason', '');
    return new TextEncoder().encode(rows.join('\n'));
  }
  const out = new Uint8Array(HEADER + RECORD * n);
  out.set(new TextEncoder().encode('Dusky Mason binary STL, mm'));
  const view = new DataView(out.buffer);
  view.setUint32(80, n, true);
  for (let t = 0; t < n; t++) {
    const o = HEADER + RECORD * t;
    normal(t).forEach((x, k) => view.setFloat32(o + 4 * k, x, true));
    for (let j = 0; j < 3; j++) for (let k = 0; k < 3; k++) view.setFloat32(o + 12 + 12 * j + 4 * k, at(t, j, k), true);
  }
  return out;
}

import {
  faceCount,
  loopCount,
  meshFromFaces,
  shadingNormals,
  tieHoles,
  vertexCount,
  type Layers,
  type PolyMesh,
} from '../mesh/index.ts';
import { badFile, checkCoordinate, checkCount, checkSize, type ReadMesh } from './limits.ts';

/**
 * Reads a Wavefront OBJ text: polygons of any size, UVs, negative (relative) indices, both line endings, lines continued with
 * a backslash. `usemtl` names become slots; a file without any takes its groups (`g`, `o`) instead. Normals, lines, points and curves
 * are left out; a material library is never followed. Throws `bad-file` with the line.
 * Format: B1. Object Files, Wavefront Technologies, version 3.0.
 */
export function readObj(bytes: Uint8Array): ReadMesh {
  checkSize(bytes);
  const text = new TextDecoder().decode(bytes);
  const positions: number[] = [];
  const uvs: number[] = [];
  const faces: number[][] = [];
  const faceUvs: number[] = [];
  const slotOf: number[] = [];
  const groupOf: number[] = [];
  const slots: string[] = [];
  const groups: string[] = [];
  const left = { elements: 0, corners: 0, small: 0 };
  let slot = -1;
  let group = -1;
  let line = 0;
  let anyUv = false;
  const named = (list: string[], name: string): number => {
    const i = list.indexOf(name);
    return i >= 0 ? i : list.push(name) - 1;
  };
  const numbers = (words: string[], n: number): number[] => {
    if (words.length < n + 1) throw badFile(`"${words[0]}" needs ${n} numbers`, `line ${line}`);
    return words.slice(1, n + 1).map((w) => checkCoordinate(Number(w), `line ${line}`));
  };
  const index = (word: string, count: number, what: string): number => {
    const i = Number(word);
    const k = i < 0 ? count + i : i - 1;
    if (!Number.isInteger(i) || k < 0 || k >= count)
      throw badFile(`A face refers to ${what} "${word.slice(0, 20)}", and there are ${count}`, `line ${line}`);
    return k;
  };
  const addFace = (words: string[]) => {
    const corners: number[] = [];
    const uv: number[] = [];
    for (const word of words.slice(1)) {
      const [v = '', t = ''] = word.split('/');
      const i = index(v, positions.length / 3, 'vertex');
      if (i === corners.at(-1)) {
        left.corners++;
        continue;
      }
      corners.push(i);
      uv.push(t ? index(t, uvs.length / 2, 'texture point') : -1);
      if (t) anyUv = true;
    }
    if (corners.length > 1 && corners[0] === corners.at(-1)) {
      corners.pop();
      uv.pop();
      left.corners++;
    }
    if (corners.length < 3) {
      left.small++;
      return;
    }
    faces.push(corners);
    faceUvs.push(...uv);
    slotOf.push(slot);
    groupOf.push(group);
  };
  let held = '';
  for (const raw of text.split(/\r\n|\n|\r/)) {
    line++;
    if (raw.endsWith('\\')) {
      held += raw.slice(0, -1) + ' ';
      continue;
    }
    const words = (held + raw).split('#', 1)[0]!.trim().split(/\s+/);
    held = '';
    switch (words[0]) {
      case '':
        break;
      case 'v':
        positions.push(...numbers(words, 3));
        break;
      case 'vt':
        uvs.push(...numbers(words.length === 2 ? [...words, '0'] : words, 2));
        break;
      case 'f':
        addFace(words);
        break;
      case 'usemtl':
        slot = named(slots, words.slice(1).join(' ') || 'Body');
        break;
      case 'g':
      case 'o':
        group = named(groups, words.slice(1).join(' ') || 'Body');
        break;
      case 'l':
      case 'p':
      case 'curv':
      case 'curv2':
      case 'surf':
        left.elements++;
        break;
      case 'vn':
      case 'vp':
      case 's':
      case 'mtllib':
        break;
      default:
        if (line === 1 || !/^[a-z_]+$/i.test(words[0]!))
          throw badFile(`"${words[0]!.slice(0, 20)}" is not a line of an OBJ file`, `line ${line}`);
    }
    checkCount(positions.length / 3, 'vertices');
    checkCount(faces.length, 'faces');
  }
  if (!faces.length) throw badFile('There are no faces in it', 'an OBJ file needs lines that begin with f');
  const byMaterial = slots.length > 0;
  const names = byMaterial ? slots : groups;
  const of = byMaterial ? slotOf : groupOf;
  if (!names.length || of.some((s) => s < 0)) names.unshift('Body');
  const shift = of.some((s) => s < 0) ? 1 : 0;
  const layers: Layers = { slot: Int32Array.from(of, (s) => s + shift) };
  if (anyUv) layers.uv = Float64Array.from(faceUvs.flatMap((t) => (t < 0 ? [0, 0] : [uvs[2 * t]!, uvs[2 * t + 1]!])));
  const mesh = meshFromFaces(positions, faces, { slots: names, layers });
  const warnings: string[] = [];
  if (left.elements) warnings.push(`${left.elements} lines, points or curves were left out.`);
  if (left.corners) warnings.push(`${left.corners} doubled corners were dropped.`);
  if (left.small) warnings.push(`${left.small} faces of under three corners were left out.`);
  return { mesh, warnings };
}

/**
 * Writes parts as one OBJ text: one group a part, polygons, slots as `usemtl`, UVs, shading normals. OBJ knows no inner
 * outlines: faces that have them are cut by ties (`tieHoles`).
 */
export function writeObj(parts: readonly { name: string; mesh: PolyMesh }[]): string {
  const out: string[] = ['# Dusky Mason'];
  let v0 = 1;
  let t0 = 1;
  let n0 = 1;
  for (const { name, mesh: given } of parts) {
    const m = loopCount(given) > faceCount(given) ? tieHoles(given) : given;
    out.push(`g ${oneLine(name)}`);
    for (let v = 0; v < vertexCount(m); v++)
      out.push(`v ${m.positions[3 * v]} ${m.positions[3 * v + 1]} ${m.positions[3 * v + 2]}`);
    const uv = m.layers.uv && distinct(m.layers.uv, 2);
    uv?.rows.forEach((r) => out.push(`vt ${r.join(' ')}`));
    const normal = distinct(shadingNormals(m), 3);
    normal.rows.forEach((r) => out.push(`vn ${r.map((x) => +x.toFixed(6)).join(' ')}`));
    let slot = -1;
    for (let f = 0; f < faceCount(m); f++) {
      const s = m.layers.slot?.[f] ?? 0;
      if (s !== slot) out.push(`usemtl ${oneLine(m.slots[s] ?? 'Body')}`);
      slot = s;
      let row = 'f';
      for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++)
        row += ` ${m.corners[c]! + v0}/${uv ? uv.of[c]! + t0 : ''}/${normal.of[c]! + n0}`;
      out.push(row);
    }
    v0 += vertexCount(m);
    t0 += uv?.rows.length ?? 0;
    n0 += normal.rows.length;
  }
  return out.join('\n') + '\n';
}

const oneLine = (name: string): string => name.replace(/\s+/g, ' ').trim() || 'Body';

/** The different rows of an array, and the row of each element. */
function distinct(data: ArrayLike<number>, size: number): { rows: number[][]; of: Int32Array } {
  const known = new Map<string, number>();
  const rows: number[][] = [];
  const of = new Int32Array(data.length / size);
  for (let i = 0; i < of.length; i++) {
    const row = Array.from({ length: size }, (_, k) => data[i * size + k]!);
    const key = row.join();
    let at = known.get(key);
    if (at === undefined) known.set(key, (at = rows.push(row) - 1));
    of[i] = at;
  }
  return { rows, of };
}

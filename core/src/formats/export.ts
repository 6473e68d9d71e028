import { joinMeshes, transformMesh, type OpContext, type PolyMesh } from '../mesh/index.ts';
import { LENGTH_UNITS, type LengthUnit } from '../units/index.ts';
import { writeGlb, type SlotLook } from './glb.ts';
import { badFile, checkSize, type ReadMesh } from './limits.ts';
import { readObj, writeObj } from './obj.ts';
import { readStl, writeStl } from './stl.ts';

/** Formats that meshes are written in, with what each of them means to a receiver. */
export const EXPORT_FORMATS = {
  obj: { title: 'OBJ', type: 'model/obj', says: 'polygons, slots, UVs and normals; faces with holes are tied' },
  glb: {
    title: 'GLB',
    type: 'model/gltf-binary',
    says: 'triangles with normals and slots, for renderers and the web; metres, y up',
  },
  stl: { title: 'STL', type: 'model/stl', says: 'bare triangles in 32 bits, for printing and milling' },
  'stl-text': { title: 'STL text', type: 'model/stl', says: 'bare triangles as readable text' },
} as const;

export type ExportFormat = keyof typeof EXPORT_FORMATS;
export type UpAxis = 'z' | 'y';

export interface ExportOptions {
  format: ExportFormat;
  /** The unit that one in the file means. */
  unit: LengthUnit;
  up: UpAxis;
}

/** Defaults of a format. */
export const exportDefaults = (format: ExportFormat): ExportOptions =>
  format === 'glb' ? { format, unit: 'm', up: 'y' } : { format, unit: 'mm', up: 'z' };

/** The file name ending of a format, without the dot. */
export const extensionOf = (format: ExportFormat): string => (format === 'stl-text' ? 'stl' : format);

/** Parts (mm, z up) as a file of the asked format, unit and up-axis; `looks` travel where the format can carry them. */
export async function exportParts(
  parts: readonly { name: string; mesh: PolyMesh }[],
  o: ExportOptions,
  looks: readonly SlotLook[] = [],
): Promise<Uint8Array> {
  const k = 1 / LENGTH_UNITS[o.unit];
  const map = o.up === 'y' ? [k, 0, 0, 0, 0, 0, k, 0, 0, -k, 0, 0] : [k, 0, 0, 0, 0, k, 0, 0, 0, 0, k, 0];
  const out = parts.map(({ name, mesh }) => ({
    name,
    mesh: k === 1 && o.up === 'z' ? mesh : transformMesh(mesh, map),
  }));
  if (o.format === 'obj') return new TextEncoder().encode(writeObj(out));
  if (o.format === 'glb') return writeGlb(out, looks);
  return writeStl(joinMeshes(out.map((p) => p.mesh)), o.format === 'stl-text' ? 'text' : 'binary');
}

/** Mesh formats that are read, by file name ending. */
export const IMPORT_EXTENSIONS = ['obj', 'stl'] as const;

/** Reads a mesh file by its name's ending. The numbers are taken as they are. Throws `bad-file`. */
export function readMesh(name: string, bytes: Uint8Array, ctx?: OpContext): ReadMesh {
  checkSize(bytes);
  const extension = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase();
  if (extension === 'obj') return readObj(bytes, ctx);
  if (extension === 'stl') return readStl(bytes, ctx);
  throw badFile(
    `Files ending in ".${extension ?? ''}" are not read`,
    `known are ${IMPORT_EXTENSIONS.map((e) => `.${e}`).join(' and ')}`,
  );
}

import { Document, WebIO } from '@gltf-transform/core';
import { shadingNormals, triangulateMesh, usedSlots, type PolyMesh } from '../mesh/index.ts';

/** How a slot looks: sRGB `#rrggbb`, the rest from 0 to 1. */
export interface SlotLook {
  slot: string;
  colour: string;
  roughness: number;
  metal: number;
  opacity: number;
}

/** What a slot without a look of its own is given: the stone of the view. */
const USUAL: SlotLook = { slot: '', colour: '#d8ccba', roughness: 0.8, metal: 0, opacity: 1 };

/** A colour in linear light, as glTF wants it. Source: IEC 61966-2-1. */
const linearOf = (colour: string): [number, number, number] =>
  [1, 3, 5].map((i) => {
    const x = parseInt(colour.slice(i, i + 2), 16) / 255;
    return x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];

/**
 * Writes parts as one binary glTF 2.0 file: one mesh a part, one primitive a slot, triangles with the corner normals
 * that the viewport shows, UVs where there are any, and the slots' looks. Coordinates go out as they are given; glTF
 * wants metres and y up.
 */
export async function writeGlb(
  parts: readonly { name: string; mesh: PolyMesh }[],
  looks: readonly SlotLook[] = [],
): Promise<Uint8Array> {
  const doc = new Document();
  doc.getRoot().getAsset().generator = 'Dusky Mason';
  const buffer = doc.createBuffer();
  const scene = doc.createScene('Dusky Mason');
  const materials = new Map<string, ReturnType<Document['createMaterial']>>();
  for (const { name, mesh } of parts) {
    const out = doc.createMesh(name);
    const { triangles, face } = triangulateMesh(mesh);
    const normals = shadingNormals(mesh);
    for (const slot of usedSlots(mesh)) {
      const corners = triangles.filter((_, i) => (mesh.layers.slot?.[face[Math.floor(i / 3)]!] ?? 0) === slot);
      // Corners that agree in vertex, normal and UV are one, so that a closed part stays closed where it shades
      // smoothly.
      const known = new Map<string, number>();
      const kept: number[] = [];
      const indices = Uint32Array.from(corners, (c) => {
        const uv = mesh.layers.uv?.slice(2 * c, 2 * c + 2).join() ?? '';
        const key = `${mesh.corners[c]}|${normals.slice(3 * c, 3 * c + 3).join()}|${uv}`;
        let i = known.get(key);
        if (i === undefined) known.set(key, (i = kept.push(c) - 1));
        return i;
      });
      const gather = (size: number, from: (c: number, k: number) => number) =>
        Float32Array.from({ length: size * kept.length }, (_, i) => from(kept[Math.floor(i / size)]!, i % size));
      const accessor = (type: 'VEC2' | 'VEC3' | 'SCALAR', data: Float32Array<ArrayBuffer> | Uint32Array<ArrayBuffer>) =>
        doc.createAccessor().setType(type).setArray(data).setBuffer(buffer);
      const title = mesh.slots[slot] ?? 'Body';
      let material = materials.get(title);
      if (!material) {
        const look = looks.find((l) => l.slot === title) ?? USUAL;
        material = doc
          .createMaterial(title)
          .setBaseColorFactor([...linearOf(look.colour), look.opacity])
          .setRoughnessFactor(look.roughness)
          .setMetallicFactor(look.metal);
        if (look.opacity < 1) material.setAlphaMode('BLEND');
        materials.set(title, material);
      }
      const primitive = doc
        .createPrimitive()
        .setAttribute(
          'POSITION',
          accessor(
            'VEC3',
            gather(3, (c, k) => mesh.positions[3 * mesh.corners[c]! + k]!),
          ),
        )
        .setAttribute(
          'NORMAL',
          accessor(
            'VEC3',
            gather(3, (c, k) => normals[3 * c + k]!),
          ),
        )
        .setIndices(accessor('SCALAR', indices))
        .setMaterial(material);
      const { uv } = mesh.layers;
      // glTF counts v downward from the top.
      if (uv)
        primitive.setAttribute(
          'TEXCOORD_0',
          accessor(
            'VEC2',
            gather(2, (c, k) => (k ? 1 - uv[2 * c + 1]! : uv[2 * c]!)),
          ),
        );
      out.addPrimitive(primitive);
    }
    scene.addChild(doc.createNode(name).setMesh(out));
  }
  return new WebIO().writeBinary(doc);
}

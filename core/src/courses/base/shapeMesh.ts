import { fillOpenings } from '../../mend/index.ts';
import { bounds, flipMesh, MasonError, transformMesh, type PolyMesh } from '../../mesh/index.ts';
import {
  ballFromPatches,
  ballFromRings,
  box,
  checkCrossing,
  circleOutline,
  cone,
  cylinder,
  insetOutline,
  prism,
  rectangleOutline,
  sheet,
  slotOutline,
  torus,
  tube,
  turnedBody,
  wedge,
  type Outline,
} from '../../shapes/index.ts';
import { outlineRun, profileRun } from './runs.ts';
import { shapeSize } from './shapeSize.ts';
import { Shape } from './shapeSpec.ts';

/** Where imported meshes are found by the hash of their content. */
export type MeshStore = (hash: string) => PolyMesh | undefined;

/** The mesh of a shape, its pivot at the origin. Throws `bad-input` with a sentence. */
export function shapeMesh(s: Shape, store: MeshStore): PolyMesh {
  const made = madeMesh(s, store);
  if (!s.pivot || s.pivot === 'own') return made;
  const [x, y, z] = pivotOf(s, () => made);
  return transformMesh(made, [1, 0, 0, -x, 0, 1, 0, -y, 0, 0, 1, -z]);
}

/** Where the pivot of a shape is, in the frame that it is made in, mm. Throws as `shapeMesh`. */
export function pivotPlace(s: Shape, store: MeshStore): [number, number, number] {
  if (!s.pivot || s.pivot === 'own') return [0, 0, 0];
  return pivotOf(s, () => madeMesh(s, store));
}

function pivotOf(s: Shape, made: () => PolyMesh): [number, number, number] {
  if (s.pivot === 'set') return s.pivotAt ?? [0, 0, 0];
  // A shape with sizes of its own is made round its middle, however its flats lie.
  const size = shapeSize(s);
  if (size) return [0, 0, s.pivot === 'base' ? -size[2] / 2 : 0];
  const { min, max } = bounds(made());
  const [x, y, z] = [0, 1, 2].map((k) => (min[k]! + max[k]!) / 2) as [number, number, number];
  return [x, y, s.pivot === 'base' ? min[2] : z];
}

/**
 * The mesh of a shape in the frame that it is made in: its middle at the origin, outlines and imported meshes as they
 * were drawn.
 */
function madeMesh(s: Shape, store: MeshStore): PolyMesh {
  switch (s.kind) {
    case 'box':
      return box(s.x, s.y, s.z, [s.nx, s.ny, s.nz]);
    case 'cylinder':
      return cylinder(s.diameter / 2, s.height, s.segments, s.rows);
    case 'slot':
      return prism({ points: slotOutline(s.x, s.y, s.segments) }, s.z);
    case 'plate':
      return prism({ points: rectangleOutline(s.x, s.y, s.corner, s.segments) }, s.z);
    case 'polygon':
      return prism({ points: circleOutline(s.diameter / 2, s.segments) }, s.height);
    case 'tube':
      return tube(s.diameter / 2, s.bore / 2, s.height, s.segments);
    case 'cone':
      return cone(s.foot / 2, s.top / 2, s.height, s.segments);
    case 'wedge':
      return wedge(s.x, s.y, s.z);
    case 'ball':
      return ballFromRings(s.diameter / 2, s.segments, s.rings);
    case 'patchBall':
      return ballFromPatches(s.diameter / 2, s.segments);
    case 'torus':
      return torus(s.diameter / 2, s.thickness / 2, s.segments, s.rings);
    case 'outline':
      return outlineMesh(s);
    case 'turned':
      return turnedMesh(s);
    case 'fitted':
      return fittedMesh(s);
    case 'sheet':
      return sheet(s.x, s.y, [s.nx, s.ny]);
    case 'part':
      // Its mesh was put in its place before (`Evaluator.linked`), where possible.
      throw new MasonError(
        'bad-input',
        `The part ${s.title} cannot be used here: it is gone, has failed, or is itself made with this one. Choose another shape.`,
      );
    case 'mesh': {
      const m = store(s.hash);
      if (!m)
        throw new MasonError('bad-input', `The imported mesh "${s.title}" is not stored here. Import its file again.`);
      return mended(m, s.closed, s.turned);
    }
  }
}

/** A prism of straight and arc pieces. Throws `bad-input` with the place when its outline crosses itself. */
function outlineMesh(s: Extract<Shape, { kind: 'outline' }>): PolyMesh {
  const outer = outlineRun(s);
  checkCrossing(outer);
  return prism({ points: outer, holes: s.holes } satisfies Outline, s.height);
}

/** A body turned from a profile of straight and arc pieces, round the middle of its height. */
function turnedMesh(s: Extract<Shape, { kind: 'turned' }>): PolyMesh {
  const { run, low, high } = profileRun(s);
  checkCrossing(run);
  return turnedBody(
    run.map(([r, z]) => [r, z - (low + high) / 2]),
    s.segments,
    s.sweep,
  );
}

/** Imported meshes as they are wanted, made once: what is known of a mesh is kept as long as it. */
const wanted = new WeakMap<PolyMesh, Map<string, PolyMesh>>();

function mended(m: PolyMesh, closed: boolean, turned: boolean): PolyMesh {
  if (!closed && !turned) return m;
  const made = wanted.get(m) ?? new Map<string, PolyMesh>();
  wanted.set(m, made);
  const key = `${closed} ${turned}`;
  let mesh = made.get(key);
  if (mesh) return mesh;
  const whole = closed ? fillOpenings(m) : m;
  mesh = turned ? flipMesh(whole) : whole;
  made.set(key, mesh);
  return mesh;
}

/** A frame, leaf or pane for an opening, its own z axis along the way through. */
function fittedMesh(s: Extract<Shape, { kind: 'fitted' }>): PolyMesh {
  const outer = insetOutline(s.points, s.gap);
  const holes = s.piece === 'frame' ? [insetOutline(s.points, s.gap + s.leg)] : [];
  return transformMesh(prism({ points: outer, holes }, s.thickness), [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, s.setback]);
}

import { MasonError, type PolyMesh } from '../mesh/index.ts';
import { circlePoint, ShapeBuilder } from './builder.ts';
import { turnedOutline, type Point2 } from './outlines.ts';

/** Points of a profile that are nearer to the axis than this share of its size lie on it. */
const ON_AXIS = 1e-9;

/**
 * The body that a closed profile sweeps when it is turned about the z axis. Points are (distance from the axis,
 * height), mm, either way round; a full turn has `segments` flats. What lies on the axis is one vertex, and no face; a
 * part sweep is closed by the profile at both of its ends. All faces are flat. Throws `bad-input` for a profile that
 * crosses the axis or touches it in a single point, where the body would be pinched.
 */
export function turnedBody(profile: readonly Point2[], segments: number, sweep = 360): PolyMesh {
  const size = profile.reduce((m, [r, z]) => Math.max(m, Math.abs(r), Math.abs(z)), 0);
  const run = turnedOutline(profile).map(([r, z]): Point2 => [Math.abs(r) <= ON_AXIS * size ? 0 : r, z]);
  const n = run.length;
  if (run.some(([r]) => r < 0))
    throw new MasonError(
      'bad-input',
      'The profile crosses the axis. Keep all of it on one side of the axis, or level with it.',
    );
  const onAxis = (i: number) => run[(i + n) % n]![0] === 0;
  if (run.some((_, i) => onAxis(i) && !onAxis(i - 1) && !onAxis(i + 1)))
    throw new MasonError(
      'bad-input',
      'The profile touches the axis in a single point, where the body would be pinched. Move that point off the axis, or lay a side on it.',
    );
  if (!Number.isInteger(segments) || segments < 3)
    throw new MasonError('bad-input', `A full turn needs 3 segments or more, not ${segments}.`);
  if (!(sweep > 0 && sweep <= 360))
    throw new MasonError('bad-input', `The sweep must be above 0° and up to 360°, not ${sweep}°.`);
  const whole = sweep === 360;
  const steps = whole ? segments : Math.max(1, Math.ceil((segments * sweep) / 360 - 1e-9));
  const b = new ShapeBuilder();
  const way = (j: number): [number, number] => {
    if (whole) return circlePoint(j, segments, 1);
    const a = (Math.PI * sweep * j) / (180 * steps);
    return [Math.cos(a), Math.sin(a)];
  };
  const shared = run.map(([r, z]) => (r === 0 ? b.vertex(0, 0, z) : -1));
  const stations = Array.from({ length: whole ? steps : steps + 1 }, (_, j) => {
    const [c, s] = way(j);
    return run.map(([r, z], i) => (r === 0 ? shared[i]! : b.vertex(r * c, r * s, z)));
  });
  for (let j = 0; j < steps; j++) {
    const [from, to] = [stations[j]!, stations[(j + 1) % stations.length]!];
    for (let i = 0; i < n; i++) {
      const k = (i + 1) % n;
      if (run[i]![0] === 0 && run[k]![0] === 0) continue;
      b.face([...new Set([from[i]!, to[i]!, to[k]!, from[k]!])]);
    }
  }
  if (!whole) {
    b.face(stations[0]!);
    b.face([...stations.at(-1)!].reverse());
  }
  return b.mesh();
}

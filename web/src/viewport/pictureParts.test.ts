import { describe, expect, it } from 'vitest';
import * as THREE from 'three';
import { box, ballFromRings } from '@dusky-mason/core/shapes';
import { transformMesh } from '@dusky-mason/core/mesh';
import { pictureOf } from '../engine/partPictures.ts';
import { FrameWork, hitOf, runsOf } from './pictureParts.ts';

describe('work that is parted over frames', () => {
  it('begins at once, goes on a little with each frame, in order, and says when it is through', () => {
    const done: number[] = [];
    const work = new FrameWork();
    work.begin([0, 1, 2, 3, 4].map((i) => () => void done.push(i)));
    expect(done).toEqual([0, 1]);
    expect(work.step()).toBe(true);
    work.add([() => void done.push(5)]);
    expect(done).toEqual([0, 1, 2, 3]);
    expect(work.step()).toBe(false);
    expect([done, work.step()]).toEqual([[0, 1, 2, 3, 4, 5], false]);
  });

  it('what was left of the last is given up for the next', () => {
    const done: string[] = [];
    const work = new FrameWork();
    work.begin(['a', 'b', 'c'].map((x) => () => void done.push(x)));
    work.begin([() => void done.push('new')]);
    expect([work.step(), done]).toEqual([false, ['a', 'b', 'new']]);
  });

  it('runs cover all of what there is, once', () => {
    expect(runsOf(0)).toEqual([]);
    const runs = runsOf(200_000);
    expect(runs.length).toBeGreaterThan(1);
    expect([runs[0]![0], runs.at(-1)![1]]).toEqual([0, 200_000]);
    for (let i = 1; i < runs.length; i++) expect(runs[i]![0]).toBe(runs[i - 1]![1]);
  });
});

describe('a ray on a picture', () => {
  const ray = (o: number[], d: number[]) => new THREE.Ray(new THREE.Vector3(...o), new THREE.Vector3(...d));

  it('meets it where it stands, with the way out of the face', () => {
    const p = pictureOf(transformMesh(box(10, 20, 30), [1, 0, 0, 100, 0, 1, 0, 50, 0, 0, 1, 7]));
    expect([p.origin, p.half, p.tree]).toEqual([[100, 50, 7], [5, 10, 15], null]);
    expect(p.radius).toBeCloseTo(Math.hypot(5, 10, 15), 5);
    const hit = hitOf(p, ray([200, 51, 8], [-1, 0, 0]))!;
    expect([hit.distance, hit.point.toArray(), hit.normal.toArray()]).toEqual([95, [105, 51, 8], [1, 0, 0]]);
    expect(hitOf(p, ray([200, 51, 8], [1, 0, 0]))).toBe(null);
  });

  it('and a large one by its tree', () => {
    const p = pictureOf(ballFromRings(50, 120, 60));
    expect(p.tree).not.toBe(null);
    expect(hitOf(p, ray([3, 4, 90], [0, 0, -1]))!.point.z).toBeCloseTo(Math.sqrt(2500 - 25), 0);
  });
});

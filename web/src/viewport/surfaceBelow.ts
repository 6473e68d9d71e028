import * as THREE from 'three';
import type { Course, Part } from '@dusky-mason/core/courses';
import type { Vec3 } from '@dusky-mason/core/mesh';
import { sideEngine } from '../engine/engine.ts';
import { Latest } from '../engine/latest.ts';
import type { PartPicture } from '../engine/protocol.ts';
import { hitOf } from './pictureParts.ts';

/** A place on a surface with its unit normal, mm. */
export interface SurfacePlace {
  point: Vec3;
  normal: Vec3;
}

/** The part as it stands below a course, for rays only: what a cutter slides over while its own cut is left out. */
export class SurfaceBelow {
  private picture: PartPicture | null = null;
  private have = '';
  private coming = false;
  private readonly asked = new Latest<{ part: Part; key: string }>(
    async ({ part, key }) => {
      this.coming = true;
      try {
        const a = await sideEngine().ask({ kind: 'evaluate', part, have: '', cancel: null });
        this.picture = a.picture;
        this.have = key;
      } catch {
        // The part itself says what is wrong with it; without a surface there is nothing to slide over.
        this.picture = null;
      } finally {
        this.coming = false;
      }
    },
    () => undefined,
  );

  /** Makes ready for sliding a cutter of a course; asked for once until something below it changes. */
  want(part: Part, course: Course): void {
    const below = part.courses.slice(0, part.courses.indexOf(course));
    const key = JSON.stringify(below);
    if (key === this.have) return;
    this.coming = true;
    this.asked.request({ part: { ...part, courses: below }, key });
  }

  /** Whether it is still being read, so that there will be a surface in a moment. */
  get isComing(): boolean {
    return this.coming;
  }

  /** Where a ray meets it first. */
  hit(ray: THREE.Ray): SurfacePlace | null {
    const first = this.picture && hitOf(this.picture, ray);
    return first && { point: first.point.toArray(), normal: first.normal.toArray() };
  }

  /** The surface that something stands on: the one nearest to its middle along its axis, to either side. */
  along(middle: THREE.Vector3, axis: THREE.Vector3): SurfacePlace | null {
    const ways = [axis.clone(), axis.clone().negate()].map((way) => this.hit(new THREE.Ray(middle.clone(), way)));
    const far = (p: SurfacePlace | null) => (p ? new THREE.Vector3(...p.point).distanceTo(middle) : Infinity);
    const [up, down] = ways as [SurfacePlace | null, SurfacePlace | null];
    // The own z of a cutter that goes into the material looks out of it.
    return up && far(up) <= 1e6 ? up : down;
  }

  release(): void {
    this.picture = null;
    this.have = '';
  }
}

import { describe, expect, it } from 'vitest';
import { Evaluator, readProject } from '../courses/index.ts';
import { isSound, surveyCounts } from '../survey/index.ts';
import { skerryLight } from './index.ts';

describe('Skerry Light', () => {
  const project = skerryLight();
  it('is a valid document', () => expect(readProject(JSON.parse(JSON.stringify(project)))).toEqual(project));

  it.each(project.parts.map((p) => [p.name, p] as const))(
    '%s: every course is done at the first tolerance, and the part is sound',
    (_name, part) => {
      const r = new Evaluator().evaluate(part, () => undefined);
      for (const c of r.courses) {
        expect(c.error).toBe(undefined);
        expect(c.report.rung ?? 0).toBe(0);
      }
      const counts = surveyCounts(r.mesh);
      expect(isSound(counts)).toBe(true);
      expect(counts).toMatchObject({ components: 1, degenerateFaces: 0, slivers: 0 });
    },
  );

  it('the wall has the volume of its closed form', () => {
    const wall = surveyCounts(new Evaluator().evaluate(project.parts[0]!, () => undefined).mesh);
    const corner = 4 * 90 * 90 - 16 * 90 * 90 * Math.sin(Math.PI / 16);
    const hatch = (560 * 420 - corner) * 240;
    const door = 800 * 1450 * 240;
    const notch = 1100 * 90 * 160;
    const drains = 4 * 16 * 1600 * Math.sin(Math.PI / 16) * 240;
    expect(wall.volume! / (2400 * 240 * 1800 - hatch - door - notch - drains)).toBeCloseTo(1, 12);
    expect(wall.genus).toBe(5);
  });
});

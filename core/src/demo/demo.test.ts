import { describe, expect, it } from 'vitest';
import { Evaluator, followCutters, readProject } from '../courses/index.ts';
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
      const sheet = part.name === 'Louvre panel';
      expect(isSound(counts)).toBe(!sheet);
      expect(counts.openEdges > 0).toBe(sheet);
      expect(counts).toMatchObject({
        components: 1,
        degenerateFaces: 0,
        slivers: 0,
        nonManifoldEdges: 0,
        flippedEdges: 0,
      });
    },
  );

  it('the door stands in its opening: the frame level with it, the leaf clear of the frame', () => {
    const [frame, leaf] = project.parts
      .slice(4)
      .map((p) => surveyCounts(new Evaluator().evaluate(p, () => undefined).mesh));
    expect(frame!.volume).toBeCloseTo((800 * 1450 - 680 * 1330) * 110, 3);
    expect(leaf!.bounds.min).toEqual([expect.closeTo(-836, 6), expect.closeTo(-22, 6), expect.closeTo(64, 6)]);
    expect(followCutters(project)).toBe(project);
  });

  it('the louvre panel has the area of its closed form', () => {
    const panel = surveyCounts(new Evaluator().evaluate(project.parts[3]!, () => undefined).mesh);
    const slot = 338 * 22 + 12 * 11 * 11 * Math.sin(Math.PI / 12);
    expect(panel.area).toBeCloseTo(540 * 400 - 6 * slot - 4 * 12 * 4.5 ** 2 * Math.sin(Math.PI / 12), 6);
    expect(panel.faces).toBe(2);
  });

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

import { describe, expect, it } from 'vitest';
import { classColour, heatColour } from './partMaterial.ts';

/** How light a colour is to the eye, 0 … 1. Source: relative luminance of WCAG 2. */
const lightness = (r: number, g: number, b: number) => 0.2126 * r + 0.7152 * g + 0.0722 * b;

describe('colours that mean something', () => {
  it('a heat gets darker all the way, so that it reads in black and white', () => {
    const out = new Float32Array(3);
    let before = Infinity;
    for (let i = 0; i <= 20; i++) {
      heatColour(i / 20, out, 0);
      const now = lightness(out[0]!, out[1]!, out[2]!);
      expect(now).toBeLessThan(before);
      before = now;
    }
    const beyond = new Float32Array(6);
    heatColour(-3, beyond, 0);
    heatColour(7, beyond, 3);
    expect(lightness(beyond[0]!, beyond[1]!, beyond[2]!)).toBeGreaterThan(0.7);
    expect(lightness(beyond[3]!, beyond[4]!, beyond[5]!)).toBeLessThan(0.05);
  });

  it('classes beside each other differ in lightness, not in hue alone', () => {
    const of = (c: number): number => {
      const out = new Float32Array(3);
      classColour(c, out, 0);
      return lightness(out[0]!, out[1]!, out[2]!);
    };
    for (let c = 0; c < 5; c++) expect(Math.abs(of(c) - of(c + 1))).toBeGreaterThan(0.02);
  });
});

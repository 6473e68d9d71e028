import { expect, it } from 'vitest';
import { box, cylinder } from '../shapes/index.ts';
import { carve, checkMemory, MEMORY_LIMIT, memoryOf } from './index.ts';

it('a cut that would take more memory than is set aside is told of beforehand, with what would fit', () => {
  const [block, pin] = [box(10, 10, 10), cylinder(2, 20, 16)];
  // 24 corners of the block, 64 of the pin's wall and 32 of its ends.
  const needs = memoryOf(block, [pin]);
  expect(needs).toBe(160 * (24 + 64 + 32));
  expect(memoryOf(block, [pin, pin]) - needs).toBe(160 * 96);
  expect(() => checkMemory(block, [pin], needs)).not.toThrow();
  expect(() => checkMemory(block, [pin], needs - 1)).toThrow(expect.objectContaining({ code: 'too-large' }));
  expect(() => checkMemory(block, Array(3e5).fill(pin), MEMORY_LIMIT)).toThrow(
    /4\.3 GB of memory, and 4\.0 GB .* 26\.8 million corners/,
  );
});

it('is asked before anything is carved', () => {
  // Looking at so many cutters one by one would take minutes; this returns at once.
  const pin = cylinder(2, 20, 64);
  expect(() => carve(box(10, 10, 10), { cutters: Array(2e5).fill(pin), operation: 'subtract' })).toThrow(
    expect.objectContaining({ code: 'too-large' }),
  );
});

import { describe, expect, it } from 'vitest';
import { findCommands, keyProblem, type Command } from './commands.ts';
import { similarCommands } from './fuzzySearch.ts';
import { everyCommand, stageCommands } from './stageCommands.ts';
import { STAGES } from './stages.ts';

const list = stageCommands().map((c): Command => ({ ...c, run: () => undefined }));

describe('the commands of all stages', () => {
  it.each([
    ['boolean', 'cut'],
    ['array', 'cut'],
    ['chamfer', 'dress'],
    ['fillet', 'dress'],
    ['weld', 'dress'],
    ['smooth', 'dress'],
    ['symmetry', 'dress'],
    ['remesh', 'dress'],
    ['measure', 'survey'],
    ['normals', 'survey'],
    ['export', 'dispatch'],
    ['save', 'dispatch'],
  ])('"%s" leads to %s', (word, stage) => {
    expect(findCommands(word, list).map((c) => c.stage)).toContain(stage);
  });

  it('are found with a slip of the pen', () => {
    expect(similarCommands('chamfre', list).map((c) => c.id)).toContain('stroke-bevel');
    expect(similarCommands('gague', list).map((c) => c.id)).toContain('gauge');
    expect(similarCommands('xyzzyq', list)).toEqual([]);
  });

  it('have an id of their own and a stage that there is', () => {
    expect(new Set(list.map((c) => c.id)).size).toBe(list.length);
    for (const c of list) expect(STAGES.map((s) => s.name)).toContain(c.stage);
  });
});

it('no two commands of any stage begin with one key, and a key of another stage is not given away', () => {
  const keys = stageCommands().flatMap((c) => (c.keys ?? '').split(', ').filter(Boolean));
  expect(new Set(keys).size).toBe(keys.length);
  expect(keyProblem('some-command', ',', everyCommand())).toContain('already does “Previous place of the finding”');
  expect(keyProblem('some-command', ',', [])).toBeNull();
});

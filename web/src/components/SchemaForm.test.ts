import { mount } from '@vue/test-utils';
import PrimeVue from 'primevue/config';
import { describe, expect, it } from 'vitest';
import { markRaw } from 'vue';
import type { z } from 'zod';
import {
  CutParams,
  STROKES,
  newShape,
  PlacementSchema,
  RepeatSchema,
  settingProblem,
  shapeKinds,
  shapeSchema,
} from '@dusky-mason/core/courses';
import PlacementForm from './PlacementForm.vue';
import SchemaForm from './SchemaForm.vue';

// @vitest-environment happy-dom

const global = { plugins: [PrimeVue] };
const cutters = [{ id: 1, name: '', shape: { kind: 'box' }, placement: {} }];
const form = (modelValue: Record<string, unknown>, without: string[] = []) =>
  mount(SchemaForm, { props: { schema: markRaw(CutParams), modelValue, unit: 'mm', name: 'f', without }, global });
const labels = (f: ReturnType<typeof form>) => f.findAll('label').map((l) => l.text());

describe('a form from a schema', () => {
  it('shows what counts for the values at hand, less what stands elsewhere', async () => {
    const f = form(CutParams.parse({ operation: 'kerf', cutters }), ['operation']);
    expect(labels(f)).toEqual([
      'On',
      'Projected along',
      'Slit width',
      'Slit depth',
      'Bottom',
      'Slits side by side',
      'Spacing',
      'Slot of new walls',
      'UVs of new walls',
    ]);
    await f.setProps({ modelValue: CutParams.parse({ operation: 'union', wallSlots: 'own', cutters }) });
    expect(labels(f)).toEqual([
      'Join flush faces',
      'Edges round new holes',
      'Tidy afterwards',
      'Slot of new walls',
      'Own slot',
      'UVs of new walls',
    ]);
  });

  it('tells which field was changed to what, and under which name', async () => {
    const f = form(CutParams.parse({ operation: 'kerf', cutters }), ['operation']);
    await f.get('#f-width').setValue('1/2 cm');
    await f.get('#f-lines').setValue('3');
    await f.get('#f-lines').setValue('-3');
    expect(f.emitted('change')).toEqual([
      ['width', 5, 'Slit width'],
      ['lines', 3, 'Slits side by side'],
    ]);
  });

  it('has a field with a name for everything that each shape declares', () => {
    for (const kind of shapeKinds(false)) {
      const f = mount(SchemaForm, {
        props: { schema: markRaw(shapeSchema(kind)), modelValue: newShape(kind), unit: 'cm', name: kind },
        global,
      });
      const inputs = f.findAll('input');
      expect(inputs.length, kind).toBe(f.findAll('label').length);
      for (const input of inputs) expect(input.attributes('aria-label') ?? input.attributes('id'), kind).toBeTruthy();
    }
  });
});

describe('a placement', () => {
  const placement = { position: [1, 2, 3], turn: [0, 90, 0] } as const;
  const make = (scaled: boolean) =>
    mount(PlacementForm, {
      props: { modelValue: { ...placement, position: [1, 2, 3], turn: [0, 90, 0] }, unit: 'mm', name: 'p', scaled },
      global,
    });

  it('changes one number and leaves the others', async () => {
    const f = make(false);
    expect(f.findAll('input')).toHaveLength(6);
    await f.get('#p-position-y').setValue('2.5 + 1');
    await f.get('#p-turn-z').setValue('1/4 turn');
    expect(f.emitted('change')?.map((e) => (e as unknown[])[0])).toEqual([
      { position: [1, 3.5, 3], turn: [0, 90, 0] },
      { position: [1, 2, 3], turn: [0, 90, 90] },
    ]);
  });

  it('has a scale where one is asked for, and refuses 0', async () => {
    const f = make(true);
    await f.get('#p-scale-x').setValue('-1');
    await f.get('#p-scale-y').setValue('0');
    expect(f.emitted('change')?.map((e) => (e as unknown[])[0])).toEqual([{ ...placement, scale: [-1, 1, 1] }]);
    expect(f.get('[role=alert]').text()).toMatch(/leaves nothing/);
  });
});

describe('hostile values, typed into every field of every kind', () => {
  const TYPED = ['20000 m', '-20000 m', '1e308', '1e-30', '-1', '0', '', '2.5', 'abc', '1/0', '1e999', '9'.repeat(300)];
  const pick = { by: 'all', on: 'face' };
  const whole = {
    cutters,
    stops: [
      [0, 0],
      [1, 1],
    ],
    edits: [{ kind: 'dissolve', name: '', params: {} }],
    pick,
  };
  const kinds: [string, z.ZodObject, Record<string, unknown>][] = [
    ...shapeKinds(false).map((k): [string, z.ZodObject, Record<string, unknown>] => [k, shapeSchema(k), newShape(k)]),
    ...Object.entries(STROKES).map(([k, { settings: s }]): [string, z.ZodObject, Record<string, unknown>] => [
      k,
      s,
      s.parse(whole),
    ]),
    ['cut', CutParams, CutParams.parse({ operation: 'kerf', cutters })],
    ['row', RepeatSchema, RepeatSchema.parse({ kind: 'row' })],
    ['round', RepeatSchema, RepeatSchema.parse({ kind: 'round' })],
  ];
  it.each(kinds)('%s', async (name, schema, modelValue) => {
    const f = mount(SchemaForm, { props: { schema: markRaw(schema), modelValue, unit: 'mm', name }, global });
    for (const input of f.findAll('input.number'))
      for (const text of TYPED) {
        const before = f.emitted('change')?.length ?? 0;
        await input.setValue(text);
        const told = f.emitted('change')?.slice(before) as [string, unknown][] | undefined;
        for (const [key, value] of told ?? []) expect(settingProblem(schema.shape[key] as z.ZodType, value)).toBe(null);
        const field = input.element.closest('.field')!;
        const said = field.querySelector('[role=alert]')?.textContent ?? '';
        // Refused with a sentence, taken, or what it was already.
        if (said) expect(said).toMatch(/^\P{Ll}.*[.]$/u);
        else
          expect(
            told?.length || input.element.getAttribute('data-settled') === 'true',
            `${input.element.id} ${text}`,
          ).toBeTruthy();
        expect(told?.length && said).toBeFalsy();
      }
  });

  it('where something stands', async () => {
    const placement = PlacementSchema.parse({ scale: [1, 1, 1] });
    const f = mount(PlacementForm, { props: { modelValue: placement, unit: 'm', name: 'p', scaled: true }, global });
    for (const id of ['position-x', 'turn-y', 'scale-z'])
      for (const text of ['20000', '1e308', '1e-30', 'x']) {
        await f.get(`#p-${id}`).setValue(text);
        for (const [value] of f.emitted('change') ?? []) expect(settingProblem(PlacementSchema, value)).toBe(null);
      }
    await f.get('#p-position-x').setValue('20000');
    expect(f.get('#p-position-x-problem').text()).toBe('Position along x: at most 10000 m.');
  });
});

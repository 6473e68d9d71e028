import { mount } from '@vue/test-utils';
import PrimeVue from 'primevue/config';
import { describe, expect, it, vi } from 'vitest';
import LengthField from './LengthField.vue';

// @vitest-environment happy-dom

const field = (props: Partial<InstanceType<typeof LengthField>['$props']> = {}) =>
  mount(LengthField, {
    props: { modelValue: 40, as: 'length', label: 'Width', unit: 'mm', id: 'w', min: 1e-6, ...props },
    global: { plugins: [PrimeVue] },
  });
/** Types and leaves the field. */
const type = (f: ReturnType<typeof field>, text: string): Promise<void> => f.get('input').setValue(text);

describe('a typed number', () => {
  it.each([
    ['60', 60],
    ['2.2 m', 2200],
    ['120/3 + 2 mm', 42],
    ['12,5', 12.5],
  ])('reads %s as %f mm', async (text, mm) => {
    const f = field();
    await type(f, text);
    expect(f.emitted('update:modelValue')).toEqual([[mm]]);
  });

  it.each([
    ['4x', /./],
    ['0', /At least 0\.000001 mm\./],
    ['', /./],
  ])('refuses "%s" with a word and changes nothing', async (text, words) => {
    const f = field();
    await type(f, text);
    expect(f.emitted('update:modelValue')).toBe(undefined);
    expect(f.get('[role=alert]').text()).toMatch(words);
    expect(f.get('input').attributes('aria-invalid')).toBe('true');
    await f.get('input').trigger('keydown.esc');
    expect(f.find('[role=alert]').exists()).toBe(false);
    expect(f.get('input').element.value).toBe('40');
  });

  it('counts in whole numbers within bounds, and takes factors other than 0', async () => {
    const n = field({ as: 'count', modelValue: 32, min: 3, max: 64 });
    await type(n, '2.5');
    await type(n, '2');
    await type(n, '65');
    expect(n.emitted('update:modelValue')).toBe(undefined);
    await type(n, '64');
    expect(n.emitted('update:modelValue')).toEqual([[64]]);
    const k = field({ as: 'factor', modelValue: 1, min: undefined });
    await type(k, '0');
    expect(k.emitted('update:modelValue')).toBe(undefined);
    await type(k, '-1,5');
    expect(k.emitted('update:modelValue')).toEqual([[-1.5]]);
  });

  it.each(['length', 'angle', 'count', 'factor', 'share'] as const)(
    'a %s that nobody bounds is bounded all the same, so that nothing overflows that is reckoned from it',
    async (as) => {
      for (const text of ['1e308', '-1e308', '20000 km', '1e30', '-1e30', '1/1e-300']) {
        const f = field({ as, modelValue: 1, min: undefined, max: undefined });
        await type(f, text);
        const given = (f.emitted('update:modelValue') ?? []).flat() as number[];
        for (const x of given) expect(Math.abs(x), text).toBeLessThanOrEqual(1e9);
        if (!given.length) expect(f.get('[role=alert]').text()).toMatch(/\.$/);
      }
    },
  );

  it('shows the value in the unit of the project', async () => {
    const f = field({ unit: 'in', modelValue: 25.4 });
    expect(f.get('input').element.value).toBe('1');
    await f.setProps({ unit: 'cm' });
    expect(f.get('input').element.value).toBe('2.54');
  });

  it('goes by steps with the arrow keys, and makes one change of those that follow each other', async () => {
    vi.useFakeTimers();
    const f = field({ min: 0, max: 60 });
    const input = f.get('input');
    await input.trigger('keydown.up');
    await input.trigger('keydown.up', { shiftKey: true });
    await input.trigger('keydown.down', { altKey: true });
    expect(input.element.value).toBe('50.9');
    expect(f.emitted('update:modelValue')).toBe(undefined);
    vi.runAllTimers();
    expect(f.emitted('update:modelValue')).toEqual([[50.9]]);
    await input.trigger('keydown.up', { shiftKey: true });
    await input.trigger('blur');
    expect(f.emitted('update:modelValue')).toEqual([[50.9], [60]]);
    vi.useRealTimers();
  });

  it('takes steps back with Esc', async () => {
    vi.useFakeTimers();
    const f = field();
    await f.get('input').trigger('keydown.up');
    await f.get('input').trigger('keydown.esc');
    vi.runAllTimers();
    expect(f.emitted('update:modelValue')).toBe(undefined);
    expect(f.get('input').element.value).toBe('40');
    vi.useRealTimers();
  });
});

import { mount } from '@vue/test-utils';
import { describe, expect, it } from 'vitest';
import { defineComponent, h, ref } from 'vue';
import { radioKeys } from './radioKeys.ts';

// @vitest-environment happy-dom

describe('a radio group by keys', () => {
  it('goes round and round, and leaves other keys alone', async () => {
    const chosen = ref('a');
    const group = mount(
      defineComponent({
        setup: () => () =>
          h(
            'div',
            { role: 'radiogroup', onKeydown: radioKeys },
            ['a', 'b', 'c'].map((k) => h('button', { role: 'radio', id: k, onClick: () => (chosen.value = k) })),
          ),
      }),
      { attachTo: document.body },
    );
    group.get<HTMLElement>('#a').element.focus();
    const press = (key: string) => group.get(`#${chosen.value}`).trigger('keydown', { key });
    await press('ArrowLeft');
    expect([chosen.value, document.activeElement?.id]).toEqual(['c', 'c']);
    await press('ArrowDown');
    expect([chosen.value, document.activeElement?.id]).toEqual(['a', 'a']);
    await press('Enter');
    expect(chosen.value).toBe('a');
    group.unmount();
  });
});

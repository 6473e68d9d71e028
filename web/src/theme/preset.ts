import { definePreset } from '@primeuix/themes';
import Aura from '@primeuix/themes/aura';

/** Verdigris, from a breath to a shade. */
const verdigris = {
  50: '#eef5f4',
  100: '#d5e7e5',
  200: '#abcfcb',
  300: '#7db4af',
  400: '#4f9892',
  500: '#2f7f79',
  600: '#286d68',
  700: '#215a56',
  800: '#1a4745',
  900: '#143735',
  950: '#0b2221',
};
const limestone = {
  0: '#fbf8f3',
  50: '#f7f3ec',
  100: '#ece6dc',
  200: '#dcd3c5',
  300: '#c3b8a8',
  400: '#a3978d',
  500: '#857a7c',
  600: '#675c6e',
  700: '#4f4558',
  800: '#3a3146',
  900: '#2a2233',
  950: '#1d1725',
};

/**
 * The theme of the page: limestone panels, plum ink, verdigris for what is picked; corners nearly square, as cut stone
 * is.
 */
export const preset = definePreset(Aura, {
  primitive: {
    borderRadius: { none: '0', xs: '1px', sm: '2px', md: '3px', lg: '3px', xl: '4px' },
    verdigris,
  },
  components: {
    dialog: {
      root: { borderRadius: '3px', shadow: 'none' },
      header: { padding: '0.8rem 1rem' },
      content: { padding: '0 1rem 1rem' },
      title: { fontSize: '1.1rem' },
    },
    toggleswitch: {
      root: { borderRadius: '2px', width: '2.1rem', height: '1.15rem' },
      handle: { borderRadius: '1px', size: '0.75rem' },
    },
  },
  semantic: {
    primary: verdigris,
    focusRing: { width: '2px', style: 'solid', color: 'var(--focus)', offset: '2px' },
    formField: { paddingX: '0.55rem', paddingY: '0.34rem' },
    colorScheme: {
      light: {
        surface: limestone,
        primary: { color: '#2a2233', contrastColor: '#fbf8f3', hoverColor: '#3a3146', activeColor: '#4f4558' },
        formField: { background: '#fbf8f3', borderColor: '#8f8478', color: '#2a2233' },
        text: { color: '#2a2233', mutedColor: '#5c5163' },
        content: { background: '#ece6dc', borderColor: '#c3b8a8' },
      },
      dark: {
        surface: { ...limestone, 0: '#fbf8f3', 900: '#251e2d', 950: '#1b1521' },
        primary: { color: '#e3dacb', contrastColor: '#231c2b', hoverColor: '#f1eadf', activeColor: '#cfc4b4' },
        formField: { background: '#1f1827', borderColor: '#84788c', color: '#ede6da' },
        text: { color: '#ede6da', mutedColor: '#b9aebb' },
        content: { background: '#2b2334', borderColor: '#4b4156' },
      },
    },
  },
});

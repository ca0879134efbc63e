// The one theme: achromatic greys around the picture, beeswax yellow for the primary act and the selection.
import { definePreset } from '@primeuix/themes';
import Aura from '@primeuix/themes/aura';

const wax = {
  50: '#fbf6e9',
  100: '#f5e9c9',
  200: '#ecd7a0',
  300: '#e3c67c',
  400: '#d8b25e',
  500: '#c49d49',
  600: '#a58239',
  700: '#84682e',
  800: '#655024',
  900: '#4a3b1c',
  950: '#2e2512',
};
const grey = {
  0: '#f2f2f2',
  50: '#e6e6e6',
  100: '#d4d4d4',
  200: '#bdbdbd',
  300: '#a6a6a6',
  400: '#8c8c8c',
  500: '#6e6e6e',
  600: '#585858',
  700: '#484848',
  800: '#3a3a3a',
  900: '#303030',
  950: '#262626',
};

export const theme = definePreset(Aura, {
  primitive: { borderRadius: { none: '0', xs: '1px', sm: '2px', md: '2px', lg: '3px', xl: '3px' } },
  semantic: {
    primary: wax,
    transitionDuration: '0.12s',
    focusRing: { width: '2px', style: 'solid', color: '{primary.400}', offset: '1px' },
    formField: { paddingX: '0.5rem', paddingY: '0.25rem' },
    colorScheme: {
      dark: {
        surface: grey,
        // 4.5 to 1 against the panels
        formField: { placeholderColor: '{surface.200}', floatLabelColor: '{surface.200}' },
        text: { mutedColor: '{surface.200}' },
      },
    },
  },
  components: { button: { colorScheme: { dark: { text: { secondary: { color: '{surface.200}' } } } } } },
});

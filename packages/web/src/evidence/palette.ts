// Colours of evidence, in one place. A name that has no colour of its own takes its turn.
import { COMPONENT_COLORS } from '../words.ts';

/** Okabe & Ito 2008. Limits are coloured by the light that they stop, where there is one. */
const COLOURS: Record<string, string> = {
  ...COMPONENT_COLORS,
  diffuse: '#0072b2',
  specular: '#e69f00',
  volume: '#e8e8e8',
  total: '#d55e00',
  clamp: '#cc79a7',
};
const TURNS = ['#56b4e9', '#e69f00', '#009e73', '#cc79a7', '#f0e442', '#d55e00', '#0072b2', '#e8e8e8'];

export const colourOf = (name: string | undefined, turn = 0): string =>
  (name === undefined ? undefined : COLOURS[name]) ?? TURNS[turn % TURNS.length];

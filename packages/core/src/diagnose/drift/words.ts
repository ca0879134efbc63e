// All wording of the diagnosis of drift between preview and final.
import type { SettingsUse } from '../../scene/index.ts';
import { inL, percent } from '../units.ts';

export const words = {
  title: 'Where preview and final differ',
  noScene: 'The drift between preview and final needs the scene: these are frames without one',
  same: 'Preview and final have the same settings.',
  noLight: (count: number) =>
    `Nothing in which preview and final differ changes the light: ${count === 1 ? 'one setting is' : `${count} settings are`} about noise, time, size or a layer.`,
  differs: (other: SettingsUse, mean: number, changed: number, limit: number) =>
    `With the ${other} settings this region differs by ${inL(mean)} on average; ${percent(changed)} of its tiles differ by more than 1 L*.${mean <= limit ? ` That is within the noise limit of ${inL(limit)}.` : ''}`,
  leads: (share: number, setting: string, here: string, there: string, other: SettingsUse) =>
    `${percent(share)} of it comes from the ${setting}: ${here} here, ${there} in the ${other}.`,
  cause: (setting: string, here: string, there: string, other: SettingsUse) =>
    `${setting}: ${here} here, ${there} in the ${other}`,
  more: (count: number) =>
    `${count} further settings that change the light were tried together with the others, but not each by itself.`,
  all: (other: SettingsUse) => `Take all that changes the light from the ${other}`,
  allAside: 'Noise, time and size stay as they are.',
  one: (setting: string, there: string, other: SettingsUse) => `Take the ${setting} from the ${other}: ${there}`,
  oneAside: (left: number, other: SettingsUse) => `Leaves a difference of ${inL(left)} from the ${other}.`,
  held: 'Another difference holds it back: by itself it changes nothing here.',
  withOther: (other: SettingsUse) => `as the ${other} has it`,
  pictures: (use: SettingsUse, other: SettingsUse) => `This region by the ${use} and by the ${other}`,
  map: 'How far they are apart',
  mapSource: 'rendered at few samples, with the same random numbers: L* of the means of tiles, as they are or at the shadow check, where it shows more', // prettier-ignore
  table: 'What each difference does here',
  tableSource: 'rendered: this region with one setting taken from the other set, and with all but that one; the same random numbers', // prettier-ignore
  columns: (use: SettingsUse, other: SettingsUse) => ['setting', use, other, 'alone', 'after all others', 'share', 'rays, times those now'], // prettier-ignore
  rest: 'What differs and leaves the light alone',
  restSource: 'computed from the settings',
  restColumns: (use: SettingsUse, other: SettingsUse) => ['setting', use, other, 'changes'],
  effects: { light: 'the light', noise: 'noise and time', size: 'the size', layer: 'the occlusion layer' },
};

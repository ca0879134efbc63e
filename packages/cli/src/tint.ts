import { targetTint, wallTransmittance } from '@dusting/core/diagnose';
import { SURFACE_DEFAULTS } from '@dusting/core/scene';
import { COMMON, parseOptions, parseWhole } from './options.ts';
import { HELP, UsageError } from './usage.ts';

/** The tint and the absorption that yield a colour behind glass. */
export function tint(args: string[]): string {
  const { help, json } = COMMON;
  const text = { type: 'string' } as const;
  const options = {
    help,
    json,
    wanted: text,
    walls: text,
    thickness: text,
    ior: text,
    thin: { type: 'boolean' },
  } as const;
  const { values } = parseOptions(args, options, 0);
  if (values.help) return HELP.tint;
  const wanted = (values.wanted ?? '').split(',').map(Number);
  if (wanted.length !== 3 || !wanted.every((c) => c >= 0)) throw new UsageError('--wanted takes R,G,B from 0 on');
  const number = (of: string | undefined, otherwise: number, option: string, least: number) => {
    const value = of === undefined ? otherwise : Number(of);
    if (!(value >= least)) throw new UsageError(`${option} takes a number from ${least} on`);
    return value;
  };
  const walls = values.walls === undefined ? 1 : parseWhole(values.walls, '--walls', 1);
  const thickness = number(values.thickness, 0, '--thickness', 0);
  const surface = { ...SURFACE_DEFAULTS, transmission_weight: 1, specular_ior: number(values.ior, 1.5, '--ior', 1), geometry_thin_walled: !!values.thin }; // prettier-ignore
  const { interfaces, passed } = wallTransmittance(surface, thickness);
  const left = passed ** walls;
  const length = values.thin ? 0 : walls * thickness;
  const answer = targetTint(wanted, { interfaces: walls * interfaces, length }, [left, left, left]);
  if (values.json) return JSON.stringify({ ...answer, transmission_depth: length, leftByReflection: left });
  const rgb = (color: number[]) => color.map((c) => c.toFixed(4)).join(', ');
  return [
    `transmission_tint   ${rgb(answer.tint)}   without absorption`,
    answer.colour
      ? `transmission_color  ${rgb(answer.colour)}   with transmission_depth ${length} m, without a tint`
      : '',
    ...answer.tooBright.map((k) => `${['red', 'green', 'blue'][k]} is wanted above the ${Math.round(100 * left)} % that the reflections leave: no filter brightens`), // prettier-ignore
  ]
    .filter(Boolean)
    .join('\n');
}

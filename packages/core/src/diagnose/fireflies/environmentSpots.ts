// Small bright spots of an environment, each as a sun of the same irradiance, direction and width.
import { luminance } from '../../color/index.ts';
import type { EnvironmentMap } from '../../shade/index.ts';

export const ENVIRONMENT_SPOT_DEFAULTS = {
  /** So many times as bright as the mean of the environment. No source. */
  times: 10,
  /** So many of them become suns, those with the most light. */
  most: 4,
  /** What is wider than this is no spot but a bright part of the sky, degrees. No source. */
  widest: 20,
} as const;

export interface EnvironmentSpot {
  /** Towards it, in the world. */
  direction: number[];
  /** What its excess over the ceiling brings to a surface across it, W/m2. */
  irradiance: number[];
  /** Full angle of the disc that is as wide, degrees. */
  angle: number;
}

export interface EnvironmentSpots {
  /** Luminance that texels of the picture are brought down to, before color and strength. */
  ceiling: number;
  /** Most light first. */
  spots: EnvironmentSpot[];
  /** Of the light of the environment: what the spots hold above the ceiling, and what lies above it in none of them; 0..1. */
  moved: number;
  left: number;
}

/**
 * @param tint color and strength that the map was built with
 * @returns no spots where nothing stands out
 */
export function environmentSpots(
  map: EnvironmentMap,
  tint: number[],
  options = ENVIRONMENT_SPOT_DEFAULTS,
): EnvironmentSpots {
  const { height, texels, width } = map;
  const solidAngle = (row: number) => Math.sin((Math.PI * (row + 0.5)) / height) * (Math.PI / height) * ((2 * Math.PI) / width); // prettier-ignore
  const [r, g, b] = tint.map((c) => (c > 0 ? 1 / c : 0));
  const y = Float64Array.from({ length: width * height }, (_, i) => luminance(r * texels[i * 4], g * texels[i * 4 + 1], b * texels[i * 4 + 2])); // prettier-ignore
  let [sum, sphere] = [0, 0];
  y.forEach((v, i) => {
    const part = solidAngle(Math.floor(i / width));
    sum += v * part;
    sphere += part;
  });
  const ceiling = (options.times * sum) / sphere;
  const found: { spot: EnvironmentSpot; light: number }[] = [];
  let above = 0;
  const taken = new Uint8Array(y.length);
  for (let i = 0; i < y.length; i++) {
    if (taken[i] || y[i] <= ceiling) continue;
    const spot = spotOf(connected(i));
    above += spot.light;
    if (spot.spot.angle <= options.widest) found.push(spot);
  }
  found.sort((a, b) => b.light - a.light).splice(options.most);
  const moved = found.reduce((all, { light }) => all + light, 0);
  return { ceiling, spots: found.map(({ spot }) => spot), moved: moved / sum, left: (above - moved) / sum };

  /** Texels above the ceiling that touch each other, from one of them. */
  function connected(from: number): number[] {
    const all = [from];
    taken[from] = 1;
    for (let k = 0; k < all.length; k++) {
      const [column, row] = [all[k] % width, Math.floor(all[k] / width)];
      for (let r = Math.max(0, row - 1); r <= Math.min(height - 1, row + 1); r++)
        for (const c of [column + width - 1, column, column + 1]) {
          const next = r * width + (c % width);
          if (taken[next] || y[next] <= ceiling) continue;
          taken[next] = 1;
          all.push(next);
        }
    }
    return all;
  }

  function spotOf(members: number[]): { spot: EnvironmentSpot; light: number } {
    const parts = members.map((i) => {
      const row = Math.floor(i / width);
      const excess = (1 - ceiling / y[i]) * solidAngle(row);
      return { i, row, excess, direction: directionOf((i % width) + 0.5, row + 0.5), light: excess * y[i] };
    });
    const light = parts.reduce((all, part) => all + part.light, 0);
    const middle = [0, 1, 2].map((k) => parts.reduce((all, part) => all + part.light * part.direction[k], 0));
    const length = Math.hypot(...middle);
    const direction = middle.map((v) => v / length);
    const irradiance = [0, 0, 0];
    let spread = 0;
    for (const part of parts) {
      const cosine = Math.min(
        1,
        part.direction.reduce((all, v, k) => all + v * direction[k], 0),
      );
      for (let k = 0; k < 3; k++) irradiance[k] += part.excess * cosine * texels[part.i * 4 + k];
      // a look-up spreads each texel as a tent does, whose variance is a sixth of its half width squared
      const across = ((2 * Math.PI) / width) * Math.sin((Math.PI * (part.row + 0.5)) / height);
      spread += part.light * (Math.acos(cosine) ** 2 + (across ** 2 + (Math.PI / height) ** 2) / 6);
    }
    // points of an even disc are half the square of its radius from the middle, in the mean of their squares
    const radius = Math.sqrt((2 * spread) / light);
    return { spot: { direction, irradiance, angle: (2 * radius * 180) / Math.PI }, light };
  }

  /** @param column of the picture, in texels from its left edge. row: from its top edge */
  function directionOf(column: number, row: number): number[] {
    const polar = (Math.PI * row) / height;
    const around = 2 * Math.PI * (column / width - 0.5);
    const [x, z] = [Math.sin(polar) * Math.sin(around), -Math.sin(polar) * Math.cos(around)];
    return [map.cosine * x + map.sine * z, Math.cos(polar), -map.sine * x + map.cosine * z];
  }
}

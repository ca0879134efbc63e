// What made a firefly, by its path.
import { luminance } from '../../color/index.ts';
import { untilLight, type PathVertex } from '../../render/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import type { Reference } from '../reference.ts';
import { isByChance, type GuiltyPath } from './guiltyPath.ts';
import { words } from './words.ts';

export const FIREFLY_CAUSES = ['behindGlass', 'caustic', 'nearLight', 'environmentSpot', 'texel', 'byChance'] as const;
export type FireflyCause = (typeof FIREFLY_CAUSES)[number];

/** A light is near where the path is closer to it than so much of its own size, or of the way from the camera. */
const NEAR = { sizes: 2, ways: 0.03 };

/** Roughness from which on a surface casts no caustic. No source. */
const ROUGH = 0.5;

/** A spot of the environment is so many times as bright as its mean. */
const SPOT = 10;

/** Where the light came from, what it came through and what it fell on. */
export interface FireflyStory {
  cause: FireflyCause;
  light: string;
  through: string[];
  onto: string;
  /** Id of the glowing object that was met, where one was. */
  emitter: string | null;
  about: Reference[];
}

/** @param sky mean luminance of the environment */
export function storyOf({ light, vertices }: GuiltyPath, document: ShotDocument, sky: number): FireflyStory {
  const last = vertices.at(-1)!;
  const way = untilLight(vertices, light);
  const events = light.asked ? [...way.slice(0, -1).map(({ lobe }) => lobe), light.lobe] : way.map(({ lobe }) => lobe);
  // where the light was spread last: what came of it through shiny surfaces, brushed ones too, is one way
  const soft = events.findLastIndex(
    (lobe, i) => lobe === 'diffuse' || lobe === 'volume' || (lobe === 'specular' && isRough(way[i])),
  );
  const spread = soft >= 0 ? soft : light.asked ? way.length - 1 : way.findLastIndex(isByChance);
  const after = way.slice(spread + 1);
  const onto = way[Math.max(0, spread)] ?? last;
  const surfaces = [...new Set(after.map(({ surface }) => surface))];
  const about: Reference[] = [
    ...(document.lights[light.light] ? [{ type: 'light' as const, id: light.light, name: document.lights[light.light].name }] : []), // prettier-ignore
    ...(light.emitter ? [objectOf(light.emitter, document)] : []),
    ...surfaces.map((id): Reference => ({ type: 'surface', id, name: document.surfaces[id]?.name ?? id })),
    objectOf(onto.object, document),
  ];
  return {
    cause: causeOf(),
    light: light.emitter
      ? (document.objects[light.emitter]?.name ?? light.emitter)
      : (document.lights[light.light]?.name ?? words.sources[light.light] ?? light.light),
    through: surfaces.map((id) => document.surfaces[id]?.name ?? id),
    onto: document.objects[onto.object]?.name ?? onto.object,
    emitter: light.emitter,
    about: about.filter((a, i) => about.findIndex((b) => JSON.stringify(a) === JSON.stringify(b)) === i),
  };

  function causeOf(): FireflyCause {
    if (light.asked && isNear()) return 'nearLight';
    const lobes = events.slice(spread + 1);
    if (lobes.includes('specular')) return 'caustic';
    if (lobes.includes('transmission')) {
      if (light.light !== 'environment') return 'behindGlass';
      return !light.asked && isSpot() ? 'environmentSpot' : 'caustic';
    }
    // points of a glowing surface are chosen evenly, whatever its texture says of them
    if (light.emitter && document.surfaces[document.objects[light.emitter].surface].maps.emission_color) return 'texel';
    return light.light === 'environment' && !light.asked && isSpot() ? 'environmentSpot' : 'byChance';
  }

  /** A specular lobe so wide spreads light as a matt surface does. */
  function isRough({ surface }: PathVertex): boolean {
    return (document.surfaces[surface]?.specular_roughness ?? 0) >= ROUGH;
  }

  /** The light is known as it arrives: what the path did to it is taken back. */
  function isSpot(): boolean {
    const [r, g, b] = light.radiance;
    const from = way.findLast(({ after }) => after)?.after ?? [1, 1, 1];
    return luminance(r, g, b) / (luminance(from[0], from[1], from[2]) * light.share) > SPOT * sky;
  }

  function isNear(): boolean {
    const from = document.lights[light.light];
    if (!from) return false;
    const distance = Math.hypot(...[3, 7, 11].map((k, i) => from.transform[k] - last.position[i]));
    const size = Math.max(from.radius ?? 0, (from.width ?? 0) / 2, (from.height ?? 0) / 2);
    return distance < Math.max(NEAR.sizes * size, NEAR.ways * vertices[0].distance);
  }
}

const objectOf = (id: string, { objects }: ShotDocument): Reference => ({ type: 'object', id, name: objects[id]?.name ?? id }); // prettier-ignore

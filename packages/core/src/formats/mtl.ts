// MTL materials. Of the shading exponent the width of GGX facets is made by Walter et al. 2007 ("Microfacet models for
// refraction through rough surfaces", section 5.2): exponent = 2 / alpha^2 - 2. Pr and Pm (roughness, metalness) are a
// widespread addition and count before it.
import type { GltfSurface, GltfTexture, Unsupported } from './gltfSurface.ts';
import { textOf } from './textOf.ts';

/** Statements that say nothing about the picture that is rendered here. */
const QUIET = new Set(['', 'Ka', 'illum', 'map_Ka', 'sharpness']);

export function readMtl(
  bytes: Uint8Array,
  file: string,
  resources: Record<string, Uint8Array>,
  unsupported: Unsupported[],
): GltfSurface[] {
  const surfaces: GltfSurface[] = [];
  let surface: GltfSurface | null = null;
  textOf(bytes)
    .split('\n')
    .forEach((text, i) => {
      const [key, ...words] = text.split('#', 1)[0].trim().split(/\s+/);
      const place = `${file}, line ${i + 1}`;
      if (key === 'newmtl') surfaces.push((surface = plainSurface(words.join(' '))));
      else if (surface && !QUIET.has(key) && !set(surface, key, words))
        unsupported.push({ feature: `material statement "${key}"`, place, effect: 'ignored' });

      function set(s: GltfSurface, statement: string, values: string[]): boolean {
        const numbers = values.map(Number);
        const color = [0, 1, 2].map((k) => (Number.isFinite(numbers[k]) ? numbers[k] : numbers[0] || 0));
        const share = Math.min(1, Math.max(0, numbers[0] || 0));
        const map = () => textureOf(values, place);
        if (statement === 'Kd') s.baseColor = color.map((c) => Math.min(1, c));
        else if (statement === 'Ke') s.emission = color;
        else if (statement === 'Ks') s.specular = Math.max(...color) > 0 ? 1 : 0;
        else if (statement === 'Ns') s.roughness = (2 / (Math.max(0, numbers[0] || 0) + 2)) ** 0.25;
        else if (statement === 'Pr') s.roughness = share;
        else if (statement === 'Pm') s.metalness = share;
        else if (statement === 'Ni') s.ior = Math.min(5, Math.max(1, numbers[0] || 1.5));
        else if (statement === 'd') s.opacity = share;
        else if (statement === 'Tr') s.opacity = 1 - share;
        else if (statement === 'map_Kd') s.maps.base_color = map();
        else if (statement === 'map_Ke') s.maps.emission_color = map();
        else if (statement === 'norm') s.maps.normal = map();
        else if (/^(map_)?bump$/i.test(statement)) s.maps.bump = map();
        else if (/^(map_)?disp$/i.test(statement)) {
          s.maps.displacement = map();
          unsupported.push({ feature: 'a displacement map', place, effect: 'off until its surface is given a scale: the format knows no length' }); // prettier-ignore
        } else return false;
        return true;
      }
    });
  return surfaces;

  function textureOf(words: string[], place: string): GltfTexture | null {
    const name = words[words.length - 1];
    const bytes = resources[name];
    if (words.length > 1)
      unsupported.push({ feature: `options of a map ("${words.slice(0, -1).join(' ')}")`, place, effect: 'ignored' });
    if (!bytes) {
      unsupported.push({ feature: name ?? 'a map without a file', place, effect: 'missing: the plain value is used' });
      return null;
    }
    return {
      name,
      bytes,
      mediaType: /\.jpe?g$/i.test(name) ? 'image/jpeg' : /\.tiff?$/i.test(name) ? 'image/tiff' : 'image/png',
      wrapU: 'repeat',
      wrapV: 'repeat',
      filter: 'mip',
      uvSet: 0,
      offset: [0, 0],
      scale: [1, 1],
      rotation: 0,
      place,
    };
  }
}

function plainSurface(name: string): GltfSurface {
  return {
    name,
    baseColor: [0.8, 0.8, 0.8],
    opacity: 1,
    cutoff: 0,
    metalness: 0,
    roughness: 0.5,
    anisotropy: 0,
    anisotropyRotation: 0,
    specular: 1,
    specularColor: [1, 1, 1],
    ior: 1.5,
    transmission: 0,
    thickness: 0,
    attenuationColor: [1, 1, 1],
    attenuationDistance: Infinity,
    dispersion: 0,
    coat: 0,
    coatRoughness: 0,
    emission: [0, 0, 0],
    normalStrength: 1,
    maps: {
      base_color: null, opacity: null, emission_color: null, metalness_roughness: null, normal: null, transmission: null,
      specular: null, specular_color: null, coat: null, coat_roughness: null, bump: null, displacement: null,
    }, // prettier-ignore
  };
}

// What is wrong with glass objects: their meshes, their surfaces, and how they touch each other. Each fault has a check of its own,
// and only objects that rays through the region meet are checked.
import { luminance } from '../../color/index.ts';
import type { CompiledScene } from '../../render/index.ts';
import type { Patch, ShotDocument, Surface } from '../../scene/index.ts';
import { volumeOf } from '../../shade/index.ts';
import type { Severity } from '../finding.ts';
import type { Reference } from '../reference.ts';
import { bodyShapes, type BodyShape } from '../bodies/bodyShapes.ts';
import { pairFaults } from './bodyPairs.ts';
import { DARK, FAULT_KINDS, type FaultKind } from './glassDefaults.ts';
import type { GlassBody, InterfaceMap } from './interfaceMap.ts';
import { lightenTint } from './targetTint.ts';
import { textureFaults } from './textureFaults.ts';
import { words } from './words.ts';

export interface GlassFault {
  /** The kind, and what it is about. */
  id: string;
  kind: FaultKind;
  severity: Severity;
  text: string;
  about: Reference[];
  cure: Cure | null;
}
export interface Cure {
  title: string;
  patch: Patch;
  sideEffect: string;
}

/** What the checks read. */
export interface GlassScene {
  scene: CompiledScene;
  document: ShotDocument;
  map: InterfaceMap;
}

/** A glass object of the region with its surface, shape and walks. */
export interface SeenBody {
  object: number;
  id: string;
  name: string;
  surfaceId: string;
  surface: Surface;
  shape: BodyShape;
  walks: GlassBody;
}

/** Objects seen in fewer pixels are not judged. */
const LEAST_PIXELS = 4;
/** Shares of an object's pixels above which something counts. Common practice, no source. */
const OFTEN = 0.5;
const SOMETIMES = 0.1;
/** Below this index refraction is hardly visible, and only total reflection shows. No source. */
const NEAR_ONE = 1.1;
const BLACK = 0.02;

export function glassFaults(of: GlassScene): { bodies: SeenBody[]; faults: GlassFault[] } {
  const bodies = seenBodies(of);
  const faults = [
    ...merged(
      bodies.flatMap((body) => [...shapeFaults(body, of), ...lookFaults(body)].map((fault) => ({ body, fault }))),
    ),
    ...surfacesOf(bodies).flatMap(surfaceFaults),
    ...pairFaults(bodies, of),
    ...textureFaults(bodies, of),
    ...unseenBehind(of),
  ];
  const rank = ({ kind }: GlassFault) => FAULT_KINDS.indexOf(kind);
  return { bodies, faults: faults.sort((a, b) => rank(a) - rank(b)) };
}

/** One fault for the bodies of a surface that have the same one. */
function merged(found: { body: SeenBody; fault: GlassFault }[]): GlassFault[] {
  const groups = new Map<string, typeof found>();
  for (const one of found) {
    const key = `${one.fault.kind} ${one.body.surfaceId}`;
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  return [...groups.values()].map(([first, ...others]) => {
    if (others.length === 0) return first.fault;
    const { cure, ...fault } = first.fault;
    const lines = [cure, ...others.map((o) => o.fault.cure)].flatMap((c) => c?.patch ?? []);
    const patch = lines.filter((line, i) => lines.findIndex(({ path }) => path === line.path) === i);
    const more = patch.length - (cure?.patch.length ?? 0);
    const about = [...fault.about, ...others.flatMap((o) => o.fault.about)];
    return {
      ...fault,
      text: words.also(fault.text, others.map(({ body }) => body.name)),
      about: about.filter((one, i) => about.findIndex((other) => JSON.stringify(other) === JSON.stringify(one)) === i),
      cure: cure && { ...cure, title: more > 0 ? words.alsoCures(cure.title, more) : cure.title, patch },
    }; // prettier-ignore
  });
}

export const objectReference = ({ id, name }: SeenBody): Reference => ({ type: 'object', id, name });
export const surfaceReference = ({ surface, surfaceId }: SeenBody): Reference => ({ type: 'surface', id: surfaceId, name: surface.name }); // prettier-ignore
export const setSurface = (id: string, parameter: string, value: unknown) => ({ op: 'replace' as const, path: `/surfaces/${id}/${parameter}`, value }); // prettier-ignore

function seenBodies({ document, map, scene }: GlassScene): SeenBody[] {
  const shapes = bodyShapes(scene);
  return [...map.bodies]
    .filter(([, walks]) => walks.pixels >= LEAST_PIXELS)
    .map(([object, walks]) => {
      const id = scene.objectIds[object];
      const { name, surface } = document.objects[id];
      return {
        object,
        id,
        name,
        surfaceId: surface,
        surface: document.surfaces[surface],
        shape: shapes(object),
        walks,
      };
    })
    .filter(({ surface }) => surface.transmission_weight > 0)
    .sort((a, b) => b.walks.pixels - a.walks.pixels);
}

/** One body for each surface: the one that is seen most. */
function surfacesOf(bodies: SeenBody[]): SeenBody[] {
  return bodies.filter((body, i) => bodies.findIndex(({ surfaceId }) => surfaceId === body.surfaceId) === i);
}

function shapeFaults(body: SeenBody, { document }: GlassScene): GlassFault[] {
  const { id, name, shape, surface, surfaceId, walks } = body;
  const about = [objectReference(body)];
  const everyOther = (test: (object: string) => boolean) => Object.keys(document.objects).filter((o) => document.objects[o].surface === surfaceId).every(test); // prettier-ignore
  const fault = (kind: FaultKind, severity: Severity, text: string, cure: Cure | null): GlassFault => ({ id: `${kind}:${id}`, kind, severity, text, about, cure }); // prettier-ignore
  if (surface.geometry_thin_walled) {
    if (!shape.isClosed) return [];
    const share = everyOther((o) => document.objects[o].mesh === document.objects[id].mesh);
    return [fault('thinOnSolid', 'warning', words.thinOnSolid(name, shape.thickness), {
        title: words.makeSolid(surface.name),
        patch: [setSurface(surfaceId, 'geometry_thin_walled', false)],
        sideEffect: share ? words.moreEvents : words.allOfSurface(surface.name),
      })]; // prettier-ignore
  }
  if (shape.rim > 0) {
    const cure = { title: words.makeThin(surface.name), patch: [setSurface(surfaceId, 'geometry_thin_walled', true)], sideEffect: words.noRefraction }; // prettier-ignore
    return [fault('open', 'error', words.open(name, shape.rim), shape.isClosed ? null : cure)];
  }
  const { facesTurned } = document.objects[id];
  const faults: GlassFault[] = [];
  if (shape.outerVolume > 0 === facesTurned && walks.lining < OFTEN * walks.inverted) {
    const patch: Patch = [{ op: 'replace', path: `/objects/${id}/facesTurned`, value: !facesTurned }];
    faults.push(fault('reversed', 'error', words.reversed(name), { title: words.turnFaces(name), patch, sideEffect: words.onlyThis })); // prettier-ignore
  }
  if (shape.filledShells > 0)
    faults.push(fault('innerWall', 'warning', words.innerWall(name, shape.filledShells), null));
  if (shape.turnedEdges > 0) faults.push(fault('mixedFaces', 'error', words.mixedFaces(name, shape.turnedEdges), null));
  return faults;
}

/** Objects that the camera sees, and not the glass. A lamp is hidden on purpose. */
function unseenBehind({ document, map, scene }: GlassScene): GlassFault[] {
  return [...map.missed].flatMap(([object, pixels]): GlassFault[] => {
    const id = scene.objectIds[object];
    const { name, onlyShadows, surface } = document.objects[id];
    if (pixels < LEAST_PIXELS || pixels < SOMETIMES * map.glass || document.surfaces[surface].emission_luminance > 0) return []; // prettier-ignore
    const flag = onlyShadows ? 'onlyShadows' : 'seenByReflections';
    return [
      {
        id: `unseenBehind:${id}`,
        kind: 'unseenBehind',
        severity: 'warning',
        text: (onlyShadows ? words.catcherBehind : words.unseenBehind)(name, pixels / map.glass),
        about: [{ type: 'object', id, name }],
        cure: {
          title: onlyShadows ? words.makeGround(name) : words.showBehind(name),
          patch: [{ op: 'replace', path: `/objects/${id}/${flag}`, value: !onlyShadows }],
          sideEffect: onlyShadows ? words.groundSeen : words.onlyThis,
        },
      },
    ];
  });
}

/** Faults that the rays through an object reveal. */
function lookFaults(body: SeenBody): GlassFault[] {
  const { id, name, surface, surfaceId, walks } = body;
  const faults: GlassFault[] = [];
  const about = [objectReference(body)];
  if (walks.thin > SOMETIMES * walks.lengths && walks.lengths > 0)
    faults.push({ id: `thinWall:${id}`, kind: 'thinWall', severity: 'warning', about, cure: null, text: words.thinWall(name, walks.thin / walks.lengths) }); // prettier-ignore
  if (walks.reflected > OFTEN * walks.pixels && walks.first > OFTEN * walks.pixels)
    faults.push({ id: `totalReflection:${id}`, kind: 'totalReflection', severity: 'note', about, cure: null, text: words.totalReflection(name, walks.reflected / walks.pixels, surface.specular_ior) }); // prettier-ignore
  const length = walks.lengths > 0 ? walks.length / walks.lengths : 0;
  const left = volumeOf(surface).extinction.map((e) => Math.exp(-e * length));
  const mean = luminance(left[0], left[1], left[2]);
  if (surface.transmission_depth > 0 && mean < DARK.inside) {
    const wanted = DARK.wanted;
    const depth = Number((surface.transmission_depth * stretchFor(volumeOf(surface).extinction, length, wanted)).toPrecision(2)); // prettier-ignore
    faults.push({ id: `darkInside:${surfaceId}`, kind: 'darkInside', severity: 'warning', about: [...about, surfaceReference(body)], text: words.darkInside(name, length, mean), cure: {
        title: words.lengthen(surface.name, surface.transmission_depth, depth),
        patch: [setSurface(surfaceId, 'transmission_depth', depth)],
        sideEffect: words.allOfSurface(surface.name),
      } }); // prettier-ignore
  }
  return faults;
}

/** By how much the extinction must be divided so that a length leaves a luminance. Bisection in the logarithm. */
function stretchFor(extinction: number[], length: number, wanted: number): number {
  let [low, high] = [0, 30];
  for (let i = 0; i < 50; i++) {
    const middle = (low + high) / 2;
    const [r, g, b] = extinction.map((e) => Math.exp((-e * length) / Math.exp(middle)));
    if (luminance(r, g, b) < wanted) low = middle;
    else high = middle;
  }
  return Math.exp(high);
}

/** A tint that lets enough light through, and some of each channel. */
function openedTint(tint: number[]): number[] {
  const [r, g, b] = tint;
  const bright = luminance(r, g, b) < DARK.wanted ? lightenTint(tint, DARK.wanted) : tint;
  const white = Math.max(0, (DARK.least - Math.min(...bright)) / (1 - Math.min(...bright)));
  return bright.map((c) => c + white * (1 - c));
}

function surfaceFaults(body: SeenBody): GlassFault[] {
  const { surface, surfaceId } = body;
  const { base_color, base_weight, specular_ior, transmission_scatter, transmission_tint, transmission_weight } =
    surface;
  const about = [surfaceReference(body)];
  const faults: GlassFault[] = [];
  const add = (kind: FaultKind, severity: Severity, text: string, cure: Cure | null) => faults.push({ id: `${kind}:${surfaceId}`, kind, severity, text, about, cure }); // prettier-ignore
  const all = words.allOfSurface(surface.name);
  const darkest = Math.min(...transmission_tint);
  if (darkest < BLACK) {
    const tint = openedTint(transmission_tint).map((c) => Number(c.toFixed(3)));
    const isBlack = luminance(...(transmission_tint as [number, number, number])) < BLACK;
    add('blackTint', isBlack ? 'error' : 'warning', isBlack ? words.blackTint(surface.name, transmission_tint) : words.missingChannel(surface.name, transmission_tint), { title: words.lighten(transmission_tint, tint), patch: [setSurface(surfaceId, 'transmission_tint', tint)], sideEffect: all }); // prettier-ignore
  }
  const base = base_weight * Math.max(...base_color);
  if (transmission_weight < 1 && transmission_weight >= OFTEN && base < BLACK)
    add('blackBase', 'warning', words.blackBase(surface.name, transmission_weight), { title: words.allThrough(surface.name), patch: [setSurface(surfaceId, 'transmission_weight', 1)], sideEffect: all }); // prettier-ignore
  if (specular_ior === 1 && !surface.geometry_thin_walled && Math.max(...transmission_scatter) === 0)
    add('noIndex', 'warning', words.noIndex(surface.name), { title: words.setIor(1, 1.5), patch: [setSurface(surfaceId, 'specular_ior', 1.5)], sideEffect: words.moreEvents }); // prettier-ignore
  if (specular_ior > 1 && specular_ior < NEAR_ONE && !surface.geometry_thin_walled)
    add('nearIndex', 'note', words.nearIndex(surface.name, specular_ior), { title: words.makeThin(surface.name), patch: [setSurface(surfaceId, 'geometry_thin_walled', true)], sideEffect: words.noRefraction }); // prettier-ignore
  return faults;
}

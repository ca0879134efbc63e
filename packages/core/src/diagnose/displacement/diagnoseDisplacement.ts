// Displacement that does nothing, blows an object up, swells it, shows steps or cracks along its seams: all of it follows from
// mesh, UVs and map, and is computed before a render. What each change does to the picture is then rendered over the region
// with the same random numbers; the causes are ranked by that.
import { InputError, type MeshData } from '../../formats/index.ts';
import { intersectRegions, type Region } from '../../image/index.ts';
import {
  asksPixels,
  displacementOf,
  meshSize,
  SurfaceLook,
  withPixelLevels,
  type CompiledScene,
} from '../../render/index.ts';
import type { RenderSettings, ShotDocument } from '../../scene/index.ts';
import type { Cause, Diagnosis, DiagnosisContext, SceneAccess } from '../contract.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import { rehearsalEffects, secondsOf } from '../rehearsal/rehearsalEffects.ts';
import { AS_IT_IS, rehearsalTable, rehearsedPictures } from '../rehearsal/rehearsalEvidence.ts';
import { differenceOf, rehearse, rehearsing, type Rehearsal } from '../rehearsal/rehearse.ts';
import { smallFrame } from '../rehearsal/smallFrame.ts';
import type { Evidence } from '../evidence.ts';
import type { Effect, Remedy } from '../remedy.ts';
import { displacedObject } from './displacedObject.ts';
import {
  readObject,
  type DisplacementCause,
  type DisplacementFault,
  type ObjectReading,
} from './displacementCauses.ts';
import { checksOf, evidenceOf } from './displacementEvidence.ts';
import { frameCracks } from './frameCracks.ts';
import { SEEN } from './seamCures.ts';
import { words } from './words.ts';

/** Looks at a region at most. */
const LOOKS = 4000;
/** Objects that are read, those that cover most of the region first, and what they must cover. */
const MOST_OBJECTS = 3;
const COVERS = 0.01;
/** L* by which a remedy must change the region to count as a cause. */
const VISIBLE = 0.1;
/** Causes that count however little they change here: gaps are thin, and what is off is off. */
const ALWAYS = new Set<DisplacementFault>([
  'off',
  'elsewhere',
  'rule',
  'padding',
  'filter',
  'painted',
  'splitNormals',
  'tJunction',
  'tiles',
]);
const IS_OFF = new Set<DisplacementFault>(['off', 'elsewhere']);
/** Of the size of an object that has no scale yet. Common practice, no source. */
const FIRST_SCALE = 0.02;

/** Without a scene it tells what the pixels say. @throws InputError where the region lies outside the picture */
export async function diagnoseDisplacement(context: DiagnosisContext): Promise<Diagnosis> {
  const { pause, picture, report, scene, settings, use } = context;
  const region = intersectRegions(context.region, picture.dataWindow);
  if (!region) throw new InputError(words.outside);
  if (!scene) return frameCracks(picture, region);
  report(0, words.looking);
  const compiled = await scene.compiled();
  const document = await levelled(scene, settings);
  const covered = await coverage(compiled, document, settings, region, pause);
  const measured: Record<string, number> = {};
  const done = (sentences: string[], rest: Partial<Diagnosis> = {}): Diagnosis => ({ kind: 'displacement', region, summary: sentences.join('\n'), causes: [], evidence: [], remedies: [], measured, ...rest }); // prettier-ignore
  if (covered.seen === 0) return done([words.nothingSeen]);

  const readings: ObjectReading[] = [];
  const causes: DisplacementCause[] = [];
  for (const [i, index] of covered.objects.entries()) {
    const id = compiled.objectIds[index];
    report(0.05 + (0.35 * i) / covered.objects.length, words.reading(document.objects[id].name));
    await pause();
    const without = whyNot(document, id, Number((FIRST_SCALE * meshSize(compiled, index)).toPrecision(1)));
    if (without) causes.push(without);
    if (!displacementOf(document, document.objects[id])) continue;
    const of = displacedObject(document, compiled, index, await scene.mesh(document.objects[id].mesh), settings);
    if (!of) {
      causes.push(noUvs(document, id));
      continue;
    }
    const reading = readObject(of, compiled, document, region);
    readings.push(reading);
    causes.push(...reading.causes);
    Object.assign(measured, { [`gap.${id}`]: reading.seams.now.wide, [`range.${id}`]: reading.movement.range, [`detail.${id}`]: reading.levels[of.object.subdivisionLevels].detail, [`rest.${id}`]: reading.heights.rest }); // prettier-ignore
  }
  if (readings.length === 0 && causes.length === 0) return done([words.nothingMoved]);

  const small = smallFrame(region, settings, use);
  const curable = causes.filter(({ cure }) => cure !== null);
  const fixed = fixedLevels(document, scene.document);
  const tries = [{ title: AS_IT_IS, patch: [] }, ...curable.map(({ cure }) => cure!)].map(({ patch, title }) => ({ title, patch: [...fixed, ...patch] })); // prettier-ignore
  const tried: Rehearsal[] = [];
  if (curable.length > 0)
    for (const wish of tries) {
      report(0.4 + (0.6 * tried.length) / tries.length, rehearsing(wish.title));
      tried.push(await rehearse(context, scene, small, wish));
    }
  const [before, ...cured] = tried;
  const cuts = regionCuts(picture, region);
  const seconds = secondsOf(context, region);
  const ranked = curable
    .map((cause, i) => ({
      cause,
      moved: differenceOf(before, cured[i]).mean,
      effects: [...gapEffect(cause), ...rehearsalEffects(before, cured[i], seconds, cuts)],
    })) // prettier-ignore
    .filter(({ cause, moved }) => moved >= VISIBLE || ALWAYS.has(cause.fault))
    // what is off comes first: the rest follows once it is on
    .sort((a, b) => Number(IS_OFF.has(b.cause.fault)) - Number(IS_OFF.has(a.cause.fault)) || b.moved - a.moved);
  const all = ranked.reduce((sum, { moved }) => sum + moved, 0);
  const uncurable = causes.filter(({ cure }) => cure === null);
  const sentences = [...ranked.map(({ cause }) => cause.text), ...uncurable.map(({ text }) => text)];
  if (sentences.length === 0) {
    sentences.push(words.nothing(readings.map(({ of }) => of.object.name)));
    for (const { levels, movement, of } of readings) sentences.push(words.reads(of.object.name, movement, levels[of.object.subdivisionLevels])); // prettier-ignore
  }
  const toCause = ({ about, id, shownBy, title }: DisplacementCause, share: number | null): Cause => ({ id, title, share, about, evidence: [...shownBy, 'checks'].filter((e) => e === 'checks' || readings.some(({ of }) => e.endsWith(of.id))) }); // prettier-ignore
  const shown = [...ranked.map(({ cause, moved }) => toCause(cause, all > 0 ? moved / all : null)), ...uncurable.map((cause) => toCause(cause, null))]; // prettier-ignore
  // what the causes rest on first, in their order
  const asked = shown.flatMap(({ evidence }) => evidence).filter((id) => id !== 'checks');
  const place = ({ id }: Evidence) => (asked.includes(id) ? asked.indexOf(id) : asked.length);
  return done(sentences, {
    causes: shown,
    evidence: [
      ...readings.flatMap((reading) => evidenceOf(reading, region)).sort((x, y) => place(x) - place(y)),
      checksOf([...ranked.map(({ cause }) => cause), ...uncurable], readings),
      ...(curable.length > 0 ? [rehearsedPictures('cures', words.cures, tried), rehearsalTable('curesTable', words.curesTable, before, cured)] : []), // prettier-ignore
    ],
    remedies: ranked.map(({ cause, effects }): Remedy => ({ id: cause.id, ...cause.cure!, effects })),
  });
}

/** With the levels at which objects are rendered that ask for edges of so many pixels. */
async function levelled({ document, mesh }: SceneAccess, settings: RenderSettings): Promise<ShotDocument> {
  const asking = Object.keys(document.objects).filter((id) => asksPixels(document.objects[id]));
  const meshes = new Map<string, MeshData>();
  for (const id of asking) meshes.set(id, await mesh(document.objects[id].mesh));
  return withPixelLevels(document, settings, (id) => meshes.get(id)!);
}

/** On a smaller frame edges of so many pixels would take fewer levels. */
function fixedLevels({ objects }: ShotDocument, { objects: asking }: ShotDocument): Remedy['patch'] {
  const moved = Object.keys(objects).filter((id) => asksPixels(asking[id]));
  return moved.flatMap((id) => [
    { op: 'replace' as const, path: `/objects/${id}/edgeLength`, value: 0 },
    { op: 'replace' as const, path: `/objects/${id}/subdivisionLevels`, value: objects[id].subdivisionLevels },
  ]);
}

/** Objects of the region that have a map or ask for one, those that cover most of it first, and how many looks met a surface. */
async function coverage(
  scene: CompiledScene,
  document: ShotDocument,
  settings: RenderSettings,
  region: Region,
  pause: () => Promise<void>,
): Promise<{ objects: number[]; seen: number }> {
  const look = new SurfaceLook(scene, settings, 0);
  const step = Math.max(1, Math.ceil(Math.sqrt((region.width * region.height) / LOOKS)));
  const counts = new Map<number, number>();
  let looks = 0;
  for (let y = region.y; y < region.y + region.height; y += step, await pause())
    for (let x = region.x; x < region.x + region.width; x += step, looks++)
      if (look.at(x, y)) counts.set(look.object, (counts.get(look.object) ?? 0) + 1);
  const isMeant = (index: number) => {
    const { subdivisionLevels, surface } = document.objects[scene.objectIds[index]];
    return subdivisionLevels > 0 || document.surfaces[surface].maps.displacement !== undefined;
  };
  const objects = [...counts].filter(([index, count]) => count >= COVERS * looks && isMeant(index)).sort((a, b) => b[1] - a[1]).slice(0, MOST_OBJECTS).map(([index]) => index); // prettier-ignore
  return { objects, seen: [...counts.values()].reduce((sum, count) => sum + count, 0) };
}

/** An object that should be displaced and is not: its scale is 0, or the map sits on a surface that no object has. */
function whyNot(document: ShotDocument, id: string, firstScale: number): DisplacementCause | null {
  const { objects, surfaces, textures } = document;
  const { name, subdivisionLevels, surface } = objects[id];
  const { displacement_scale: scale, maps } = surfaces[surface];
  const about = [{ type: 'object' as const, id, name }, { type: 'surface' as const, id: surface, name: surfaces[surface].name }]; // prettier-ignore
  if (maps.displacement !== undefined && scale === 0)
    return { id: `off:${id}`, fault: 'off', title: words.cause.off(name), text: words.off(name), about, shownBy: [], cure: { title: words.remedy.on(name, firstScale), patch: [{ op: 'replace', path: `/surfaces/${surface}/displacement_scale`, value: firstScale }], sideEffect: words.side.shows } }; // prettier-ignore
  // subdivision without a map asks for one
  if (maps.displacement !== undefined || subdivisionLevels === 0) return null;
  const used = new Set(Object.values(objects).map((object) => object.surface));
  const other = Object.entries(surfaces).find(([other, { maps: m }]) => m.displacement !== undefined && !used.has(other)); // prettier-ignore
  if (!other) return null;
  const [, { displacement_neutral, displacement_scale, maps: m, name: otherName }] = other;
  const texture = m.displacement!;
  const patch: Remedy['patch'] = [
    { op: 'add', path: `/surfaces/${surface}/maps/displacement`, value: texture },
    { op: 'replace', path: `/surfaces/${surface}/displacement_scale`, value: displacement_scale },
    { op: 'replace', path: `/surfaces/${surface}/displacement_neutral`, value: displacement_neutral },
  ];
  return { id: `elsewhere:${id}`, fault: 'elsewhere', title: words.cause.elsewhere(name), text: words.elsewhere(name, textures[texture].name, otherName), about, shownBy: [], cure: { title: words.remedy.put(textures[texture].name, surfaces[surface].name), patch, sideEffect: words.side.shows } }; // prettier-ignore
}

function noUvs({ objects, surfaces, textures }: ShotDocument, id: string): DisplacementCause {
  const { name, surface } = objects[id];
  return { id: `noUvs:${id}`, fault: 'noUvs', title: words.cause.noUvs(name), text: words.noUvs(name, textures[surfaces[surface].maps.displacement!].name), about: [{ type: 'object', id, name }], shownBy: [], cure: null }; // prettier-ignore
}

/** Gap in the widest tenth of the seams that the region shows. It is computed: a picture cannot measure it. */
function gapEffect({ gap }: DisplacementCause): Effect[] {
  return gap ? [{ measure: 'seamGap', now: gap.before, target: SEEN, value: gap.after, low: gap.after, high: gap.afterWorst }] : []; // prettier-ignore
}

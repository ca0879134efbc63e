// All wording of the displacement diagnosis.
import type { UvRule } from '../../scene/index.ts';
import { BYTES_A_TRIANGLE } from '../../render/index.ts';
import { finePercent, inL, inMegabytes, percent } from '../units.ts';
import type { DisplacementFault } from './displacementCauses.ts';
import type { JunctionGaps } from './junctionGaps.ts';
import type { LevelDetail, Movement } from './mapDetail.ts';
import type { MapHeights } from './mapHeights.ts';
import type { MapSteps } from './mapSteps.ts';
import type { MapTiles } from './mapTiles.ts';
import type { SeamGaps } from './seamGaps.ts';
import type { UvFault, UvReading } from './uvReading.ts';

const length = (v: number) => (Math.abs(v) < 0.1 ? `${Number((v * 1000).toPrecision(2))} mm` : `${Number(v.toPrecision(3))} m`); // prettier-ignore
const px = (v: number) => `${v < 0.095 ? v.toFixed(2) : v.toFixed(1)} px`;
const many = (v: number) => (v >= 1e6 ? `${(v / 1e6).toFixed(1)} M` : v >= 1e4 ? `${Math.round(v / 1000)} k` : String(Math.round(v))); // prettier-ignore
const FOUND = { signed: 'it is signed', mode: 'most of it', median: 'half of it lies above' };

export const words = {
  needsScene: 'Whether a seam cracks, and why, is computed from mesh and map: bring both in, and ask there.',
  noBeauty: 'the displacement diagnosis needs a beauty picture in color: say on the Layers panel which layer it is',
  darkLines: (count: number, longest: number) =>
    `${count === 1 ? 'One thin dark line stands' : `${count} thin dark lines stand`} out in this region, ${count === 1 ? '' : 'the longest '}${longest} px from end to end.`,
  candidates: 'They are candidates for cracks and no more: a fold, a wire or a drawn line looks the same.',
  noDarkLines: 'No thin dark line stands out in this region: no crack shows here.',
  darkLinesTitle: 'Thin dark lines',
  darkLinesSource:
    'measured in the pixels: darker than both sides by more than the unrest of the picture; the longest first',
  darkLineLength: 'end to end',
  darkLine: (depth: number) => `${inL(depth)} darker than its sides`,
  outside: 'the region lies outside the picture',
  looking: 'Looking which objects are displaced here',
  reading: (name: string) => `Reading the map and the mesh of ${name}`,
  nothingSeen: 'No pixel of this region shows a surface.',
  nothingMoved: 'Nothing here is displaced: no surface of this region has a displacement map.',
  nothing: (names: string[]) => `Nothing was found that is wrong with the displacement of ${names.join(', ')}.`,
  reads: (name: string, { range, size }: Movement, { detail, level }: LevelDetail) =>
    `${name} moves by ${length(range)}, ${finePercent(range / size)} of its size, and level ${level} shows ${percent(detail)} of the map's detail.`,

  elsewhere: (name: string, texture: string, surface: string) =>
    `${name} has no displacement map; ${texture} sits on ${surface}, which nothing shows.`,
  off: (name: string) => `${name} has a displacement map, and its scale is 0.`,
  noUvs: (name: string, texture: string) => `${name} has no UVs: ${texture} has nowhere to lie, and moves nothing.`,
  missingTile: (name: string, texture: string, tiles: number[]) =>
    `The UVs of ${name} lie on tile ${tiles.join(', ')}, which ${texture} lacks: it reads as 0 there.`,
  encoding: (texture: string) =>
    `${texture} is decoded as a color (sRGB): a stored height of 0.5 is read as 0.21, and slopes get steeper towards the top.`,
  neutral: (name: string, swell: number, { by, rest }: MapHeights, neutral: number) =>
    `The whole of ${name} ${swell > 0 ? 'swells' : 'shrinks'} by ${length(Math.abs(swell))}: the map rests at ${rest} (${FOUND[by]}), and the neutral value is ${Number(neutral.toPrecision(3))}.`,
  strong: (name: string, { folded, range, size, slope }: Movement) =>
    `${name} moves by ${length(range)}, ${percent(range / size)} of its size${folded > 0.002 ? `; ${finePercent(folded)} of its triangles are turned over` : ''}${slope > 5.7 ? '; its slopes are steeper than 80 degrees' : ''}.`,
  coarse: (name: string, now: LevelDetail, better: LevelDetail) =>
    `${name} has too few faces: level ${now.level} shows ${percent(now.detail)} of the map's detail, level ${better.level} ${percent(better.detail)} with ${many(better.triangles)} triangles, about ${inMegabytes(better.triangles * BYTES_A_TRIANGLE)}. Shading what is finer (on its surface) shows it without them, but for the outline.`,
  steps: (texture: string, { levels, terraced }: MapSteps, step: number, high: number) =>
    `${texture} has ${levels} values: each is a step of ${length(step)}, ${px(high)} high, and ${percent(terraced)} of its gentle slopes lie in terraces. A map of 16 bits has none.`,
  splitNormals: (name: string, { worst, worstLength }: SeamGaps) =>
    `${name} opens along its hard edges by up to ${px(worst)} (${length(worstLength)}): each side moves along its own normal.`,
  tJunction: (name: string, { count, gap, length: open }: JunctionGaps) =>
    `${count === 1 ? 'A vertex' : `${count} vertices`} of ${name} ${count === 1 ? 'lies' : 'lie'} on edges of faces that do not have ${count === 1 ? 'it' : 'them'} (T-junctions): the map tears them open by up to ${px(gap)} (${length(open)}). Split those edges where the mesh is made.`,
  tiles: (texture: string, { recoded, sizes }: MapTiles) =>
    [
      ...(sizes.length > 1 ? [`Tiles of ${texture} differ in size: ${sizes.map(({ height, numbers, width }) => `${numbers.join(', ')} ${numbers.length === 1 ? 'is' : 'are'} ${width} x ${height}`).join('; ')}. At their common borders they are filtered differently; store all at one size.`] : []), // prettier-ignore
      ...(recoded ? [`Tile ${recoded.numbers.join(', ')} of ${texture} rests at ${Number(recoded.rest.toPrecision(2))}, the others at ${Number(recoded.others.toPrecision(2))}: as far apart as the decoding of a color puts them. Store all the same way.`] : []), // prettier-ignore
    ].join(' '),
  rule: (name: string, rule: UvRule, now: SeamGaps, better: UvRule, then: SeamGaps, share: number) =>
    `The seams of ${name} part by ${px(now.wide)} in their widest tenth, and up to ${px(now.worst)} (${length(now.worstLength)}) over ${now.places} places; the rule for UVs, ${rule}, makes ${percent(share)} of it: it pulls the borders in, ${better} leaves ${px(then.wide)}.`,
  padding: (texture: string, now: SeamGaps, after: number, share: number) =>
    `${texture} is not painted beyond its UV borders: look-ups there mix in what lies outside. That makes ${percent(share)} of the ${px(now.wide)} by which the seams part (up to ${px(now.worst)}, ${length(now.worstLength)}); padding leaves ${px(after)}.`,
  filter: (texture: string, now: SeamGaps, after: number, share: number) =>
    `Smaller levels of ${texture} reach across its UV borders. That makes ${percent(share)} of the ${px(now.wide)} by which the seams part (up to ${px(now.worst)}, ${length(now.worstLength)}); without them ${px(after)} are left.`,
  painted: (texture: string, { wide, worst }: SeamGaps) =>
    `Both sides of seams are painted differently in ${texture}: ${px(wide)} in their widest tenth and up to ${px(worst)} are left whatever the rule, the filter and the padding. Paint them alike, or blend them.`,

  cause: {
    elsewhere: (name) => `The map of ${name} sits on another surface`,
    off: (name) => `The displacement of ${name} is off`,
    noUvs: (name) => `${name} has no UVs`,
    missingTile: (name) => `${name} lies on missing tiles`,
    encoding: (name) => `The map of ${name} is read as a color`,
    neutral: (name) => `Wrong neutral value on ${name}`,
    strong: (name) => `${name} is displaced too far`,
    coarse: (name) => `${name} has too few faces`,
    steps: (name) => `The map of ${name} has too few values`,
    splitNormals: (name) => `Hard edges of ${name} open`,
    tJunction: (name) => `T-junctions of ${name} open`,
    tiles: (name) => `Tiles of the map of ${name} do not match`,
    rule: (name) => `The rule for UVs parts the seams of ${name}`,
    padding: (name) => `Too little padding at the seams of ${name}`,
    filter: (name) => `The filter reaches across the seams of ${name}`,
    painted: (name) => `Sides of seams differ on ${name}`,
  } satisfies Record<DisplacementFault, (name: string) => string>,

  remedy: {
    put: (texture: string, surface: string) => `Displace ${surface} by ${texture}`,
    on: (name: string, scale: number) => `Scale of ${name}: ${length(scale)}`,
    linear: (texture: string) => `Read ${texture} as plain numbers`,
    neutral: (name: string, value: number) => `Neutral value of ${name}: ${value}`,
    scale: (name: string, scale: number, height: number) => `Scale of ${name}: ${length(scale)}, which moves it by ${length(height)}`, // prettier-ignore
    level: (name: string, { level }: LevelDetail) => `${level} subdivision levels on ${name}`,
    joined: (name: string) => `Subdivide ${name}: one normal at each place`,
    rule: (name: string, rule: UvRule) => `UVs of ${name} at borders: ${rule}`,
    blend: (texture: string, texels: number) => `Blend both sides of the seams of ${texture} within ${texels} px`,
    padding: (texture: string, texels: number) => `Grow the padding of ${texture} by ${texels} px`,
    filter: (texture: string) => `Read ${texture} without smaller levels`,
  },
  side: {
    everywhere: 'every surface with this texture changes',
    volume: (before: number, after: number) => (before > 0 && after > 0 ? `the body becomes ${percent(after / before)} of its volume` : 'the body gets back its size'), // prettier-ignore
    flatter: 'the relief gets flatter everywhere',
    finer: (more: number) => `${many(more)} triangles more, about ${inMegabytes(more * BYTES_A_TRIANGLE)}`,
    rounder: 'corners get rounder: a crease angle keeps them',
    rule: 'textures of this object move a little along UV borders',
    blend: 'what is painted there is softened by as much as the sides differ',
    padding: 'takes a little longer to load; other programs need the padding in the file',
    filter: 'detail that is finer than the mesh turns to roughness',
    shows: 'the object changes its shape',
  },

  heights: (name: string) => `Heights on ${name}`,
  heightsSource: 'computed: the map at each vertex, by the area that it stands for',
  height: 'value of the map',
  counted: '% of the surface',
  neutralNow: 'neutral value',
  restsAt: 'rests at',
  levels: (name: string) => `Detail by level on ${name}`,
  levelsSource: 'computed: variance of the map that vertices so far apart can carry (two a period)',
  levelTableSource:
    'detail, spacing of vertices and missed height (of 95 % of the edges at most) computed; memory estimated from triangles',
  coarseMap: (name: string) => `Where the faces of ${name} are too coarse`,
  coarseSource:
    'computed: how far the map stands above or below the middle of an edge, in pixels; hidden places count as well',
  level: 'subdivision level',
  detail: 'detail of the map',
  present: 'now',
  levelTable: (name: string) => `Levels on ${name}`,
  levelColumns: ['level', 'detail', 'spacing', 'missed', 'triangles', 'memory'],
  scales: (name: string) => `Scale on ${name}`,
  scalesSource: 'computed on the mesh, from its displaced triangles',
  scaleColumns: ['', 'value'],
  scaleRows: { range: 'moves by', size: 'size of the object', share: 'of its size', folded: 'triangles turned over', slope: 'slope of the steepest 5 %' }, // prettier-ignore
  degrees: (tangent: number) => `${Math.round((Math.atan(tangent) * 180) / Math.PI)} degrees`,
  rules: (name: string) => `Gap by rule on ${name}`,
  rulesSource: 'computed: distance of both sides of each seam, at the size of the shot',
  ruleColumns: ['rule for UVs', 'widest tenth', 'widest', 'length'],
  uv: (name: string) => `UVs of ${name} over its map`,
  uvSource: 'computed from map and mesh: heights against the neutral value, seams widest first at the size of the shot',
  uvLayers: { height: 'height', padding: 'padding', stretch: 'stretch', uses: 'used' },
  uvPadding: ['under the UVs', 'padding', 'not painted'],
  uvUses: ['by one place', 'by several'],
  islands: (name: string, count: number) =>
    count === 1 ? `UVs of ${name}: one island` : `UVs of ${name}: ${count} islands`,
  islandsSource: 'computed: stretch is how much farther a texel reaches one way than the other, in 95 % of the island',
  islandColumns: ['from U, V', 'surface', 'triangles', 'texels a metre', 'stretch', ''],
  mirrored: 'mirrored',
  noArea: 'no area',
  uvFault: {
    collapsed: (name, { collapsed }) =>
      `${finePercent(collapsed)} of ${name} has UVs without area: the map stands still there`,
    overlap: (name, { overlap }) =>
      `${finePercent(overlap)} of what the UVs of ${name} cover is used by several places: what is painted there shows in each of them`,
    mirrored: (name, { layout, mirrored }) =>
      `${mirrored} of ${layout.islands.length} islands of ${name} lie mirrored: what is painted across their seams must be mirrored as well`,
    stretched: (name, { stretched }) =>
      `${finePercent(stretched)} of ${name} stretches texels more than 4 : 1: the map blurs one way`,
    uneven: (name, { unevenness }) =>
      `islands of ${name} differ by ${unevenness.toFixed(1)} times in texels a metre: detail is coarser on some`,
    outside: (name, { outside }) =>
      `${finePercent(outside)} of ${name} has UVs outside of the map, which does not repeat: its border is dragged along there`,
  } satisfies Record<UvFault, (name: string, uvs: UvReading) => string>,
  uvPassed: {
    collapsed: 'all UVs have area',
    overlap: 'no two places share a part of the map',
    mirrored: 'islands are not mirrored',
    stretched: 'texels stretch less than 4 : 1',
    uneven: 'texels a metre are even over the islands',
    outside: 'UVs lie on the map',
  } satisfies Record<UvFault, string>,
  cures: 'The region with each change',
  curesTable: 'What each change does',
  checks: 'Checks',
  checksSource: 'computed from mesh, UVs and map',
  passed: {
    elsewhere: 'maps sit where they are seen',
    off: 'scale is not 0',
    noUvs: 'UVs are there',
    missingTile: 'all tiles are there',
    encoding: 'heights are read as plain numbers',
    neutral: 'the neutral value is where the map rests',
    strong: 'no folds, and movement is in proportion',
    coarse: 'enough faces for the map',
    steps: 'no terraces',
    splitNormals: 'one normal at each place',
    tJunction: 'no vertex lies on an edge of a face without it',
    tiles: 'tiles are of one size and encoding',
    rule: 'the rule for UVs leaves seams closed',
    padding: 'padding is wide enough',
    filter: 'the filter stays inside of the islands',
    painted: 'both sides of seams are painted alike',
  } satisfies Record<DisplacementFault, string>,
};

// What a shot is made of, and what each part of it is made of and used by.
import { differenceOf, pathKeys } from './patch.ts';
import type { ShotDocument } from './shotDocument.ts';

export const CONTENT_KINDS = ['object', 'surface', 'light', 'texture', 'camera', 'environment'] as const;
export type ContentKind = (typeof CONTENT_KINDS)[number];
export interface ContentRef {
  kind: ContentKind;
  /** Empty for the environment. */
  id: string;
}
export interface Content extends ContentRef {
  name: string;
  madeOf: ContentRef[];
  usedBy: ContentRef[];
}

/** Part of a document that holds a kind of content. */
const GROUP = {
  object: 'objects',
  surface: 'surfaces',
  light: 'lights',
  texture: 'textures',
  camera: 'cameras',
} as const;
/** Path to a content in a document. */
export const contentKeys = ({ kind, id }: ContentRef): string[] =>
  kind === 'environment' ? ['environment'] : [GROUP[kind], id];

export const sameContent = (a: ContentRef, b: ContentRef) => a.kind === b.kind && a.id === b.id;

/** All contents, kind by kind. */
export function sceneContents(document: ShotDocument): Content[] {
  const { objects, surfaces, lights, textures, cameras } = document;
  const all: Content[] = [];
  const found = new Map<string, Content>();
  const put = (kind: ContentKind, id: string, name: string) => {
    const content: Content = { kind, id, name, madeOf: [], usedBy: [] };
    all.push(content);
    found.set(`${kind} ${id}`, content);
  };
  for (const [id, { name }] of Object.entries(objects)) put('object', id, name);
  for (const [id, { name }] of Object.entries(surfaces)) put('surface', id, name);
  for (const [id, { name }] of Object.entries(lights)) put('light', id, name);
  for (const [id, { name }] of Object.entries(textures)) put('texture', id, name);
  for (const [id, { name }] of Object.entries(cameras)) put('camera', id, name);
  put('environment', '', 'environment');
  const link = (user: ContentRef, part: ContentRef) => {
    found.get(`${user.kind} ${user.id}`)!.madeOf.push(part);
    found.get(`${part.kind} ${part.id}`)?.usedBy.push(user); // what is gone is named all the same
  };
  for (const [id, { surface }] of Object.entries(objects))
    link({ kind: 'object', id }, { kind: 'surface', id: surface });
  for (const [id, { maps }] of Object.entries(surfaces))
    for (const texture of new Set(Object.values(maps)))
      if (texture !== undefined) link({ kind: 'surface', id }, { kind: 'texture', id: texture });
  for (const [id, { linked }] of Object.entries(lights))
    for (const object of linked ?? []) link({ kind: 'light', id }, { kind: 'object', id: object });
  return all;
}

/** States that contents can be searched by. */
export const CONTENT_STATES = {
  noShadow: 'casts no shadow',
  noShadowOn: 'receives no shadow',
  onlyShadows: 'catches shadows only',
  unseenByCamera: 'hidden from the camera',
  unseenByReflections: 'hidden from reflections',
  singleSided: 'back faces are not there',
  facesTurned: 'faces are turned',
  clear: 'lets light through',
  shines: 'shines',
  textured: 'has textures',
  linked: 'lights only some objects',
  unused: 'used by nothing',
} as const;
export type ContentState = keyof typeof CONTENT_STATES;

export function isInState({ kind, id, usedBy }: Content, state: ContentState, document: ShotDocument): boolean {
  const object = kind === 'object' ? document.objects[id] : null;
  const light = kind === 'light' ? document.lights[id] : null;
  const surface = kind === 'surface' ? document.surfaces[id] : object && document.surfaces[object.surface];
  switch (state) {
    case 'noShadow':
      return object?.castsShadows === false || light?.castsShadows === false;
    case 'noShadowOn':
      return object?.receivesShadows === false;
    case 'onlyShadows':
      return object?.onlyShadows === true;
    case 'unseenByCamera':
      return (object ?? light ?? (kind === 'environment' ? document.environment : null))?.seenByCamera === false;
    case 'unseenByReflections':
      return object?.seenByReflections === false;
    case 'singleSided':
      return object?.doubleSided === false;
    case 'facesTurned':
      return object?.facesTurned === true;
    case 'clear':
      return !!surface && (surface.transmission_weight > 0 || surface.geometry_opacity < 1 || surface.maps.opacity !== undefined); // prettier-ignore
    case 'shines':
      return !!light || (surface?.emission_luminance ?? 0) > 0;
    case 'textured':
      return !!surface && Object.values(surface.maps).some((map) => map !== undefined);
    case 'linked':
      return !!light && light.linked !== null;
    case 'unused':
      return (kind === 'surface' || kind === 'texture') && usedBy.length === 0;
  }
}

/** Which contents differ between two documents. */
export function changedContents(before: ShotDocument, after: ShotDocument): ContentRef[] {
  const groups = Object.entries(GROUP) as [keyof typeof GROUP, string][];
  const found = new Map<string, ContentRef>();
  for (const { path } of differenceOf(before, after)) {
    const [group, id = ''] = pathKeys(path);
    const kind = group === 'environment' ? group : groups.find(([, name]) => name === group)?.[0];
    if (kind) found.set(`${kind} ${id}`, { kind, id: kind === 'environment' ? '' : id });
  }
  return [...found.values()];
}

// Wording and signs that several views share.
import type { LayerRole } from '@dusting/core/frames';
import type { Component, SceneMemory } from '@dusting/core/render';
import {
  COMPONENT_NAMES,
  inL,
  inMegabytes,
  inSeconds,
  plainNumber,
  renderName,
  type DefectKind,
} from '@dusting/core/diagnose';
import type { DefectState, ProofState } from './api.ts';

/** Okabe & Ito 2008, a palette for all kinds of colour vision. */
export const COMPONENT_COLORS: Record<Component, string> = {
  directDiffuse: '#56b4e9',
  indirectDiffuse: '#0072b2',
  directSpecular: '#f0e442',
  indirectSpecular: '#e69f00',
  transmission: '#009e73',
  volume: '#e8e8e8',
  emission: '#d55e00',
  background: '#cc79a7',
};

export const DEFECT_SIGNS: Record<DefectKind, { sign: string; name: string }> = {
  noise: { sign: '⁙', name: 'noise' },
  fireflies: { sign: '✦', name: 'fireflies' },
  glass: { sign: '◇', name: 'glass' },
  occlusion: { sign: '◐', name: 'occlusion' },
  displacement: { sign: '≋', name: 'displacement' },
  shadow: { sign: '◣', name: 'shadow' },
  drift: { sign: '⇄', name: 'drift' },
  other: { sign: '○', name: 'cut-off light' },
};
export const DEFECT_STATES: Record<DefectState, { sign: string; name: string }> = {
  open: { sign: '●', name: 'open' },
  explained: { sign: '◑', name: 'explained' },
  fixed: { sign: '✓', name: 'fixed' },
  accepted: { sign: '–', name: 'accepted' },
};
export const PROOF_STATES: Record<ProofState, string> = {
  queued: 'waiting',
  rendering: 'rendering',
  merging: 'putting together',
  done: 'done',
  cancelled: 'cancelled',
  failed: 'failed',
};

export const ROLE_NAMES: Record<LayerRole, string> = {
  beauty: 'beauty',
  ...COMPONENT_NAMES,
  diffuse: 'diffuse, all',
  specular: 'specular, all',
  otherLight: 'other light',
  albedo: 'albedo',
  normal: 'normal',
  position: 'position',
  depth: 'depth',
  uv: 'UV',
  occlusion: 'occlusion',
  shadow: 'shadow',
  data: 'not light',
};
/** A layer as it is called on screen; what its group says already is left out. */
export const layerLabel = (name: string) => {
  const bare = name.replace(/^(cut|error|group|source|light|matte\.[^.]+)\./, '');
  // the list closed, its heading is not seen
  if (name.startsWith('error.')) return `${ROLE_NAMES[bare as LayerRole] ?? bare}, standard error`;
  return bare === 'sumGap' ? 'beauty minus its parts' : (ROLE_NAMES[bare as LayerRole] ?? bare);
};
/** Files that frames come in, for the file dialog. */
export const FRAME_FILES = '.exr,.png,.hdr,.jpg,.jpeg,.tif,.tiff,.log,.txt';

export const proofName = renderName;
export const seconds = inSeconds;
/** Of hours, in what is read easily. */
export const hours = (h: number) =>
  h < 1 ? seconds(h * 3600) : h < 72 ? `${h.toFixed(1)} h` : `${(h / 24).toFixed(1)} d`;
export const MEMORY_NAMES: Record<keyof SceneMemory, string> = {
  hierarchy: 'ray queries',
  geometry: 'geometry',
  textures: 'textures',
  tables: 'tables',
  film: 'film',
};
export const megabytes = inMegabytes;
export const lightnessUnits = inL;
export const value = plainNumber;
export const ago = (date: string) =>
  new Date(date).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

export const FINDING_SIGNS = { error: '✕', warning: '▲', note: '·' } as const;

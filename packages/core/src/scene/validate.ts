import { Ajv, type ErrorObject, type ValidateFunction } from 'ajv';
import { completeShot } from './complete.ts';
import { checkPictureSize, InputError } from '../formats/index.ts';
import { determinant } from '../math/index.ts';
import { ShotDocument } from './shotDocument.ts';

// "unit" is ours: it carries the unit of a number to the interface
const ajv = new Ajv({ allErrors: true, verbose: true, keywords: ['unit'] });
let check: ValidateFunction<ShotDocument> | null = null;

/** Returns the document, completed with defaults, if it is right: shape, ranges, and every reference. @throws InputError naming the path and the range. */
export function validateShot(given: unknown, place = ''): ShotDocument {
  const document = completeShot(given);
  check ??= ajv.compile<ShotDocument>(ShotDocument);
  if (!check(document)) throw new InputError(describe(check.errors ?? []), place);
  const has = (group: object, id: string | undefined, path: string) => {
    if (id !== undefined && !(id in group))
      throw new InputError(`${path} refers to "${id}", which is not in the shot`, place);
  };
  has(document.cameras, document.camera, 'camera');
  const solid = (transform: number[], path: string) => {
    if (!Number.isFinite(1 / determinant(transform)))
      throw new InputError(`${path} flattens it to nothing: its scale must not be 0 on any axis`, place);
  };
  for (const [id, object] of Object.entries(document.objects)) {
    for (const transform of [object.transform, ...object.laterTransforms]) solid(transform, `objects.${id}.transform`);
    has(document.meshes, object.mesh, `objects.${id}.mesh`);
    has(document.surfaces, object.surface, `objects.${id}.surface`);
  }
  for (const [id, surface] of Object.entries(document.surfaces))
    for (const [slot, texture] of Object.entries(surface.maps))
      has(document.textures, texture, `surfaces.${id}.maps.${slot}`);
  for (const [id, light] of Object.entries(document.lights)) solid(light.transform, `lights.${id}.transform`);
  for (const [id, camera] of Object.entries(document.cameras)) solid(camera.transform, `cameras.${id}.transform`);
  for (const [id, light] of Object.entries(document.lights))
    for (const object of light.linked ?? []) has(document.objects, object, `lights.${id}.linked`);
  for (const use of ['preview', 'final'] as const) checkPictureSize(document[use].width, document[use].height, use);
  return document;
}

const TYPES: Record<string, string> = {
  integer: 'a whole number',
  number: 'a number',
  string: 'a text',
  boolean: 'true or false',
  object: 'an object',
  array: 'a list',
};

/** The first faults in words: "final.pixelSamples is 0; it must be at least 1". */
export function describe(errors: ErrorObject[]): string {
  const told = errors.slice(0, 4).map((error) => {
    const path = error.instancePath.slice(1).replaceAll('/', '.') || 'the document';
    const { keyword, params } = error;
    const value = JSON.stringify(error.data)?.slice(0, 60);
    if (keyword === 'additionalProperties') return `${path} has no setting "${params.additionalProperty}"`;
    if (keyword === 'required') return `${path} lacks "${params.missingProperty}"`;
    if (keyword === 'minimum') return `${path} is ${value}; it must be at least ${params.limit}`;
    if (keyword === 'maximum') return `${path} is ${value}; it must be at most ${params.limit}`;
    if (keyword === 'type') return `${path} is ${value}; it must be ${TYPES[params.type as string] ?? params.type}`;
    if (keyword === 'const') return `${path} must be ${JSON.stringify(params.allowedValue)}`;
    return `${path} ${error.message}`;
  });
  return told.join('; ');
}

import { Type, type Static, type TSchema } from '@sinclair/typebox';
import { Ajv, type ValidateFunction } from 'ajv';
import type { RequestHandler } from 'express';
import { DEFECT_KINDS, RENDER_KINDS } from '@dusting/core/diagnose';
import { LayerMapping, LOG_PATTERN_KINDS } from '@dusting/core/frames';
import { describe } from '@dusting/core/scene';
import { BadRequest } from '../errors.ts';

const ajv = new Ajv({ allErrors: true, verbose: true, coerceTypes: false });
const compiled = new WeakMap<TSchema, ValidateFunction>();

/** The value, if it fits the schema. @throws BadRequest naming what does not fit */
export function parse<T extends TSchema>(schema: T, value: unknown): Static<T> {
  let check = compiled.get(schema);
  if (!check) compiled.set(schema, (check = ajv.compile(schema)));
  if (!check(value)) throw new BadRequest(describe(check.errors ?? []));
  return value as Static<T>;
}

const MOST_NESTING = 100;

/** Refuses bodies that are nested so deep that whatever walks them would run out of stack. */
export const checkNesting: RequestHandler = (request, _response, next) => {
  let level: unknown[] = [request.body];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > MOST_NESTING) throw new BadRequest(`The body is nested more than ${MOST_NESTING} deep.`);
    level = level.flatMap((value) => (value && typeof value === 'object' ? Object.values(value) : []));
  }
  next();
};

const closed = { additionalProperties: false };
/** Any side of any picture is shorter. */
const MOST_PIXELS = 2 ** 20;
export const Region = Type.Object(
  {
    x: Type.Integer({ minimum: 0, maximum: MOST_PIXELS }),
    y: Type.Integer({ minimum: 0, maximum: MOST_PIXELS }),
    width: Type.Integer({ minimum: 1, maximum: MOST_PIXELS }),
    height: Type.Integer({ minimum: 1, maximum: MOST_PIXELS }),
  },
  closed,
);
const Patch = Type.Array(
  Type.Object({
    op: Type.Union([Type.Literal('add'), Type.Literal('replace'), Type.Literal('remove')]),
    path: Type.String(),
    value: Type.Optional(Type.Unknown()),
  }),
  { maxItems: 1000 },
);
const Use = Type.Union([Type.Literal('preview'), Type.Literal('final')]);
const Id = Type.Integer({ minimum: 1, maximum: 2 ** 31 - 1 });
const Reason = Type.String({ maxLength: 2000 });

/** A shot's name: what stands on the page, and in the names of files. */
export const ShotName = Type.String({ title: 'name', minLength: 1, maxLength: 200 });

/** How many edits of the shot the window knew of when it made its own. */
const Edits = Type.Integer({ minimum: 0, maximum: 2 ** 31 - 2 });

export const SlipBody = Type.Object({ patch: Patch, edits: Edits }, closed);
export const KeepBody = Type.Object({ edits: Edits, reason: Reason }, closed);
/** `was`: the note that is written over. */
export const NoteBody = Type.Object({ note: Reason, was: Reason }, closed);
export const PredictBody = Type.Object({ use: Use, proof: Id, region: Type.Union([Region, Type.Null()]) }, closed);
export const ProofBody = Type.Object(
  {
    kind: Type.Union(RENDER_KINDS.map((kind) => Type.Literal(kind))),
    /** Of a diagnostic render; those of sweeps and diagnoses are sent by what they belong to. */
    purpose: Type.Optional(Type.Literal('pilot')),
    use: Use,
    region: Type.Union([Region, Type.Null()]),
    before: Type.Optional(Id),
    predicted: Type.Optional(
      Type.Object({
        seconds: Type.Union([Type.Number(), Type.Null()]),
        noise: Type.Union([Type.Number(), Type.Null()]),
      }),
    ),
  },
  closed,
);
const Most = (maximum: number) => Type.Integer({ minimum: 1, maximum });
export const PlanBody = Type.Object(
  {
    use: Use,
    region: Type.Union([Region, Type.Null()]),
    share: Type.Number({ minimum: 0.5, maximum: 1 }),
    bounds: Type.Object(
      { leastPixelSamples: Most(65536), mostPixelSamples: Most(65536), mostSplits: Most(1024) },
      closed,
    ),
  },
  closed,
);
const Axis = Type.Object(
  {
    path: Type.String({ pattern: '^(/[A-Za-z0-9_-]{1,80}){2,3}$' }),
    values: Type.Array(Type.Union([Type.Number(), Type.String({ maxLength: 40 }), Type.Boolean()]), {
      minItems: 1,
      maxItems: 36,
    }),
  },
  closed,
);
export const SweepBody = Type.Object(
  { use: Use, region: Type.Union([Region, Type.Null()]), axes: Type.Array(Axis, { minItems: 1, maxItems: 2 }) },
  closed,
);
export const DecisionBody = Type.Object({ keep: Type.Boolean(), reason: Reason, edits: Edits }, closed);
export const RevertBody = Type.Object({ revision: Id, edits: Edits }, closed);
/** `was`: what the layers were taken for. */
export const MappingBody = Type.Object({ mapping: LayerMapping, was: LayerMapping }, closed);
export const DefectBody = Type.Object(
  {
    kind: Type.Union(DEFECT_KINDS.map((k) => Type.Literal(k))),
    region: Region,
    proof: Id,
    note: Type.Optional(Reason),
  },
  closed,
);
export const DefectChange = Type.Object(
  {
    state: Type.Optional(Type.Union((['open', 'explained', 'fixed', 'accepted'] as const).map((s) => Type.Literal(s)))),
    note: Type.Optional(Reason),
    expected: Type.Optional(Type.Union([Type.String({ maxLength: 200 }), Type.Null()])),
    removed: Type.Optional(Type.Boolean()),
  },
  { ...closed, minProperties: 1 },
);
export const ProofChange = Type.Object(
  { note: Type.Optional(Reason), was: Type.Optional(Reason), pinned: Type.Optional(Type.Boolean()) },
  { ...closed, minProperties: 1 },
);
export const ReferenceBody = Type.Object({ proof: Type.Union([Id, Type.Null()]) }, closed);
export const DiagnoseBody = Type.Object({ proof: Id, again: Type.Optional(Type.Boolean()) }, closed);

const Interest = Type.Union([
  Type.Object({ x: Type.Number(), y: Type.Number(), width: Type.Number(), height: Type.Number() }, closed),
  Type.Null(),
]);
const Names = Type.Array(Type.String({ maxLength: 80 }), { maxItems: 100_000 });
const Some = Type.Union([Names, Type.Null()]);
const Bounces = Type.Union((['direct', 'less', 'more'] as const).map((b) => Type.Literal(b)));
/** What a live preview is to show: PreviewWish. */
export const WishBody = Type.Object(
  {
    number: Type.Integer({ minimum: 0 }),
    revision: Id,
    wish: Type.Object(
      {
        patch: Patch,
        use: Use,
        isolation: Type.Object(
          {
            lights: Some,
            muted: Names,
            objects: Some,
            grey: Type.Boolean(),
            noTextures: Type.Boolean(),
            flat: Type.Boolean(),
            bounces: Type.Union([Bounces, Type.Null()]),
            noBackground: Type.Boolean(),
          },
          closed,
        ),
        samples: Type.Integer({ minimum: 1, maximum: 65536 }),
        interest: Interest,
        denoised: Type.Boolean(),
      },
      closed,
    ),
  },
  closed,
);
export const LookBody = Type.Object({ interest: Interest }, closed);
export const PauseBody = Type.Object({ on: Type.Boolean() }, closed);
export const LogPatternBody = Type.Object(
  {
    fact: Type.Union(LOG_PATTERN_KINDS.map((kind) => Type.Literal(kind))),
    expression: Type.String({ minLength: 1, maxLength: 300 }),
  },
  closed,
);
export const HarmlessBody = Type.Object(
  { key: Type.String({ minLength: 1, maxLength: 1100 }), reason: Reason, house: Type.Boolean() },
  closed,
);

// The choices of subdivision and displacement, by the terms of the open USD schema for subdivision surfaces where it has any.
import { Type, type Static } from '@sinclair/typebox';

const oneOf = <T extends string>(values: readonly T[]) => Type.Union(values.map((value) => Type.Literal(value)));

/** How UVs run along their borders (faceVaryingLinearInterpolation): from smooth everywhere to linear everywhere. */
export const UV_RULES = ['none', 'cornersOnly', 'cornersPlus1', 'cornersPlus2', 'boundaries', 'all'] as const;
export const UvRule = oneOf(UV_RULES);
export type UvRule = Static<typeof UvRule>;

/** What the rim of an open mesh does (interpolateBoundary): it runs smooth, or corners of one face stay where they are too. */
export const RIM_RULES = ['edgeOnly', 'edgeAndCorner'] as const;
export const RimRule = oneOf(RIM_RULES);
export type RimRule = Static<typeof RimRule>;

/**
 * What the numbers of a map are: a height along the normal (red), or a way to go: along U, V upwards and the normal, or along
 * X, Y and Z of the object.
 */
export const DISPLACEMENT_KINDS = ['height', 'tangentVector', 'objectVector'] as const;
export const DisplacementKind = oneOf(DISPLACEMENT_KINDS);
export type DisplacementKind = Static<typeof DisplacementKind>;

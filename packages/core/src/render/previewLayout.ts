// The numbers of a pixel of a preview:
// // 0..2 sums of RGB, 3 samples, 4 object + 1 of the last sample that met one, 5 its surface + 1
// // 6 squares of luminance, 7..9 albedo, 10..12 normal, 13 depth, 14..16 light that the camera sees itself: sums, for the
// // look without noise alone, which single precision is enough for

export const PREVIEW = { rgb: 0, samples: 3, object: 4, surface: 5, squares: 6, albedo: 7, normal: 10, depth: 13, seen: 14, stride: 17 } as const; // prettier-ignore
/** Numbers of a pixel that are kept as doubles; the others are single. */
export const PREVIEW_DOUBLES = PREVIEW.squares;
export const PREVIEW_SINGLES = PREVIEW.stride - PREVIEW_DOUBLES;
/** Of a pixel. */
export const PREVIEW_BYTES = PREVIEW_DOUBLES * 8 + PREVIEW_SINGLES * 4;

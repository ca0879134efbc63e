/** Keys whose value may be null, which a merge patch would otherwise take as "remove". */
const NULLABLE = new Set(['picture', 'gradient', 'background', 'linked']);

/** RFC 7396 merge patch, how a settings file is laid over an imported shot. */
export function mergeShot<T>(target: T, overlay: unknown): T {
  if (typeof overlay !== 'object' || overlay === null || Array.isArray(overlay)) return overlay as T;
  const base = typeof target === 'object' && target !== null && !Array.isArray(target) ? target : {};
  const merged = { ...base } as Record<string, unknown>;
  for (const [key, value] of Object.entries(overlay)) {
    if (key === '__proto__') continue;
    if (value === null && !NULLABLE.has(key)) delete merged[key];
    else merged[key] = mergeShot(merged[key], value);
  }
  return merged as T;
}

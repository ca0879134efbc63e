export * from './layerRoles.ts';
export * from './sourceLayers.ts';
export * from './applyRoles.ts';
export * from './sumCheck.ts';
export * from './readFrames.ts';
export * from './logLines.ts';
export * from './logGroups.ts';
export * from './logFacts.ts';
export {
  compilePattern,
  LOG_PATTERN_KINDS,
  LOG_PATTERNS,
  type LogPattern,
  type LogPatternKind,
} from './logPatterns.ts';
export * from './logTimes.ts';

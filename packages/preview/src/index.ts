export { PreviewStage, type PreviewReport, type PreviewWish, type StageWorld } from './stage.ts';
export { JobTracer } from './jobTracer.ts';
export { tracerApi, type TracerApi } from './tracerApi.ts';

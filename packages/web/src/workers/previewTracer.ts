// Traces chunks of the preview: one worker of several, which share the scene.
import { expose } from 'comlink';
import { tracerApi } from '@dusting/preview';

expose(tracerApi());

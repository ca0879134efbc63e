// Runs once, before the walks, which run two at a time.
import { makeDemoFolder } from './application.ts';

export const mochaGlobalSetup = makeDemoFolder;

// Runs once, before the walks. They run one after the other: two at a time took as long, and what renders were predicted to take was
// not what they took.
import { makeDemoFolder } from './application.ts';

export const mochaGlobalSetup = makeDemoFolder;

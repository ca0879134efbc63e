import { shallowRef } from 'vue';
import type { TextureRef } from '@dusting/core/scene';

/** How a texture lies on a surface. */
export type Mapping = Pick<TextureRef, 'name' | 'uvSet' | 'offset' | 'scale' | 'rotation' | 'wrapU' | 'wrapV'>;

/** What was copied last, to be given to another texture. */
export const copiedMapping = shallowRef<Mapping | null>(null);

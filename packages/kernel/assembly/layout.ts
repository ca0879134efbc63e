// The memory that the kernel reads. core/trace/kernelScene.ts writes it and checks its inputs; nothing is checked here.
// All addresses are bytes, all parts are aligned to 16.
//
// header, i32:    // 0 mark, 1 mesh table, 2 instance table, 3 top nodes, 4 instance count, 5 first scratch area (one for
//                 // each of 64 threads), 6..7 unused
// mesh, 16 B:     // i32: 0 nodes, 1 packets, 2 keys, 3 unused
// instance, 112 B: // i32: 0 mesh (address), 1 flags, 2 mask, 3 keys (address, or 0); f64 x 12: world to object, row by row
// key of a moving instance: // f64 x 12, object to world, row by row; the first word of the table is the count, in 16 B
// node, 128 B:    // f32x4: 0 min x, 16 max x, 32 min y, 48 max y, 64 min z, 80 max z; i32 x 4 at 96: children; 112 unused
//                 // child of an inner node: its number >= 0; a leaf: ~packet, or in the top level ~instance; an empty
//                 // place has inverted bounds
// packet of four triangles, 144 B a key + 16 B: // for each key f32x4: ax ay az bx by bz cx cy cz; i32 x 4: triangle numbers
//                 // places that hold no triangle are all zero, which nothing hits
// scratch, 5 KiB a thread: // f64: 0 t, 8 u, 16 v; i32: 24 instance (sign bit: from behind), 28 triangle; 32 lanes; 64 blended packet;
//                 // 256 stack of the top level, 2048 stack of a mesh, 8 B an entry: i32 child, f32 entry distance;
//                 // 4096 collected hits, each as at 0

export const NODE: usize = 128;
export const CHILDREN: usize = 96;
export const CORNERS: usize = 144;
export const IDS: usize = 16;
export const INSTANCE: usize = 112;
export const BOX: usize = 32; // f32x4 min (the fourth unused), f32x4 max

export const HEADER_INSTANCES: usize = 8;
export const HEADER_TOP: usize = 12;

export const IDENTITY_FLAG: i32 = 1;

export const BACK: i32 = 1 << 31;

export const LANES: usize = 32;
export const BLENDED: usize = 64;
export const TOP_STACK: usize = 256;
export const MESH_STACK: usize = 2048;
export const HITS: usize = 4096;
export const HIT: usize = 32;
export const MOST_HITS: i32 = 32;

/**
 * Settings of the C library under which a server's large buffers go back to the machine when they are freed. Left alone it
 * learns from the first of them to keep such buffers in its own heap, in pieces (mallopt(3), M_MMAP_THRESHOLD).
 */
export const GIVES_BACK = {
  MALLOC_ARENA_MAX: '2',
  MALLOC_MMAP_THRESHOLD_: '131072',
  MALLOC_TRIM_THRESHOLD_: '131072',
};

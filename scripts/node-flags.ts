/** Of server and worker. A middling young generation: with a larger one an import takes 100 MB more and no less time. */
export const NODE_FLAGS: readonly string[] = ['--enable-source-maps', '--max-semi-space-size=16'];

/**
 * The worker has as many threads at work as there are processors, and more of them to collect what is young would only be in their
 * way. Its first thread only hands work out; the others have limits of their own.
 */
export const WORKER_FLAGS: readonly string[] = [
  '--no-parallel-scavenge',
  '--no-allocation-site-pretenuring',
  '--max-semi-space-size=4',
];

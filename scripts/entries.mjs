// The programs that are built for Node: name → source.
export const ENTRIES = {
  cli: 'apps/cli/src/main.ts',
  server: 'apps/server/src/main.ts',
  worker: 'apps/server/src/jobs/worker.ts',
  verify: 'apps/cli/src/verify/main.ts',
  campaign: 'apps/server/src/campaign/main.ts',
  reader: 'apps/server/src/campaign/reader.ts',
  bench: 'apps/cli/src/bench/main.ts',
};

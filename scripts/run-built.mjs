// node scripts/run-built.mjs verify|bench: runs the built program.
process.env.LONGHERON_BUILT = '1';
const { runEntry } = await import('./run-entry.mjs');
await runEntry(process.argv[2]);

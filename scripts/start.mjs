// Starts the server program.
import { runEntry } from './run-entry.mjs';

await runEntry('server');

#!/usr/bin/env node
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { realpathSync } from 'node:fs';

const here = dirname(realpathSync(fileURLToPath(import.meta.url)));
const { runEntry } = await import(pathToFileURL(join(here, '../../../scripts/run-entry.mjs')).href);
const { main } = await runEntry('cli');
process.exitCode = await main(process.argv.slice(2));

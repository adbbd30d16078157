import { inertialOverSeeds } from './inertial';
import { solveSession } from './gnss';
import { SITE_DEFAULTS } from '@longheron/site/files';
import { writeFileSync, readFileSync, existsSync } from 'node:fs';
const line = (a: string, b: string, c: string, d: boolean) => console.log(d ? 'ok  ' : 'MISS', a, b, c);
const cache = '/tmp/solved.json';
const solved = existsSync(cache) ? JSON.parse(readFileSync(cache, 'utf8')) : [0, 1, 2, 3, 4, 5, 6, 7].map((k) => ({ ...solveSession(SITE_DEFAULTS.seed + 17 * k), seed: SITE_DEFAULTS.seed + 17 * k }));
if (!existsSync(cache)) writeFileSync(cache, JSON.stringify(solved.map((s: any) => ({ seed: s.seed, epochs: s.epochs.map((e: any) => ({ ...e, xyzM: [...e.xyzM], covariance: [...e.covariance] })) }))));
inertialOverSeeds(line, solved.slice(0, Number(process.argv[2] ?? 8)));
